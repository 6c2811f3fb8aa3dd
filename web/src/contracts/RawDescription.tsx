import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api, seg } from '../api/client';
import type { ContractView } from '../api/types';
import { Scroll } from '../common/Panel';
import css from './RawDescription.module.css';
import { shifted, tall } from '../common/place';

export function RawDescription({
  contract,
  line,
  document,
}: {
  contract: ContractView;
  line: number;
  document: string | null;
}) {
  const [chosen, setChosen] = useState<string | null>(null);
  const uri = chosen ?? document ?? contract.documents[0];
  const raw = useQuery({
    queryKey: ['raw', contract.name, contract.version, uri],
    queryFn: () =>
      api.get<{ uri: string; text: string }>(
        `/contracts/${seg(contract.name)}/raw?version=${contract.version}&document=${seg(uri)}`,
      ),
  });
  const lines = raw.data?.text.split('\n') ?? [];
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 18,
    overscan: 30,
  });
  useEffect(() => {
    if (line && lines.length) rows.scrollToIndex(line - 1, { align: 'center' });
  }, [line, lines.length]); // eslint-disable-line
  return (
    <div className={css.frame}>
      <div className={`row small ${css.bar}`}>
        {contract.documents.length > 1 ? (
          <Select
            size="small"
            className={css.input}
            value={uri}
            onChange={setChosen}
            options={contract.documents.map((d) => ({ value: d, label: d }))}
          />
        ) : (
          <span className="soft">{uri}</span>
        )}
        <span className="faint push num">{lines.length} lines</span>
      </div>
      <Scroll ref={scroller} label="document" className={css.body}>
        <div className="sparse" style={tall(rows.getTotalSize())}>
          {rows.getVirtualItems().map((r) => (
            <div
              key={r.key}
              className={`mono sparse-row ${css.line} ${r.index + 1 === line ? css.marked : ''}`}
              style={shifted(r.start)}
            >
              <span className={`faint ${css.text}`}>{r.index + 1}</span>
              {lines[r.index]}
            </div>
          ))}
        </div>
      </Scroll>
    </div>
  );
}
