import { useQuery } from '@tanstack/react-query';
import { Popover } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { PastExchange } from '../api/types';
import { millis, when } from '../common/format';
import { Status } from '../common/ui';
import css from './History.module.css';
import { titleOfFault } from '../common/faults';

/** What was sent from this Bench before, by anyone; opening one brings its request and its answer back. */
export function History({
  contract,
  port,
  operation,
  open,
}: {
  contract: string;
  port: string;
  operation: string;
  open: (h: PastExchange) => void;
}) {
  const [isOpen, setOpen] = useState(false);
  const list = useQuery({
    queryKey: ['history', contract, port, operation],
    queryFn: () =>
      api.get<PastExchange[]>(
        `/contracts/${seg(contract)}/bench/history?port=${seg(port)}&operation=${seg(operation)}`,
      ),
  });
  const n = list.data?.length ?? 0;
  const items = (
    <div className={`scroll ${css.body}`}>
      {list.data?.map((h) => (
        <button
          key={h.id}
          className={`item ${css.action}`}
          onClick={() => {
            setOpen(false);
            open(h);
          }}
        >
          <span className="num nowrap">{when(h.sentAt)}</span>
          <Status mood={h.outcome === 'answered' && h.status < 300 && !h.fault ? 'ok' : 'bad'}>
            {h.fault ? titleOfFault(h.fault) : h.status || h.outcome}
          </Status>
          <span className="soft num nowrap">{millis(h.micros / 1000)}</span>
          <span className={`faint cut ${css.wide}`}>{h.account}</span>
        </button>
      ))}
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomRight" open={isOpen && n > 0} onOpenChange={setOpen} content={items}>
      <button
        className="link soft nowrap"
        disabled={n === 0}
        title={n === 0 ? 'Nothing was sent yet' : 'What was sent before'}
      >
        history{n ? <span className="num"> {n}</span> : null}
      </button>
    </Popover>
  );
}
