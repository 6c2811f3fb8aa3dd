import { Button, Segmented, Select } from 'antd';
import { Link } from 'react-router';
import { seg } from '../api/client';
import { isLive, named } from '../app/environment';
import type { OperationView, PortView } from '../api/types';
import { History } from './History';
import { TestValuesMenu } from './TestValues';
import type { BenchModel } from './useBench';
import css from './BenchBar.module.css';

interface Props {
  bench: BenchModel;
  contract: string;
  port: PortView;
  operation: OperationView;
}

/** Rows or XML, where the call goes, what was sent before, and sending. */
export function BenchBar({ bench: b, contract, port, operation }: Props) {
  const hasSecret = b.rules.some((r) => r.secret);
  return (
    <div className={`row small ${css.bar}`}>
      <Segmented
        size="small"
        value={b.xml === null ? 'rows' : 'xml'}
        onChange={(v) => void b.show(v as 'rows' | 'xml')}
        options={[
          { value: 'rows', label: 'Rows' },
          {
            value: 'xml',
            label: operation.http ? 'Text' : 'XML',
            disabled: hasSecret,
            title: hasSecret ? 'With a secret among the values it is sent from the rows' : undefined,
          },
        ]}
      />
      <Select
        size="small"
        aria-label="send over"
        className={css.over}
        value={b.over}
        onChange={b.setOver}
        title="Where the calls of this contract go"
        options={[
          { value: '', label: port.address ? 'contract’s address' : 'choose' },
          ...b.services.map((c) => ({ value: c.name, label: c.name })),
        ]}
      />
      <span className={`push row ${css.deeds}`}>
        <button
          className="link soft"
          title="Fills every required row with a value that fits; hold Shift for the optional ones too"
          onClick={(e) => b.example.mutate(e.shiftKey)}
        >
          example
        </button>
        <button className="link soft" onClick={b.clear}>
          clear
        </button>
        <TestValuesMenu contract={contract} operation={operation.name} rules={b.rules} take={b.take} />
        <History contract={contract} port={port.name} operation={operation.name} open={(h) => void b.open(h)} />
      </span>
      <Button type="primary" title="Ctrl ⏎" loading={b.send.isPending} onClick={() => b.send.mutate()}>
        {b.over && isLive(b.environment) ? named('Send', b.environment, 'to') : 'Send'}
      </Button>
    </div>
  );
}

/** The way from an operation to a flow of it. @param exchange of the Bench that it starts from */
export const MakeFlowLink = ({
  contract,
  port,
  operation,
  exchange,
}: {
  contract: string;
  port: string;
  operation: string;
  exchange?: number;
}) => (
  <Link
    className="soft small nowrap"
    to={
      `/flows/new?contract=${seg(contract)}&port=${seg(port)}&operation=${seg(operation)}` +
      (exchange === undefined ? '' : `&exchange=${exchange}`)
    }
  >
    {exchange === undefined ? 'make a flow of it' : 'make a flow of this exchange'}
  </Link>
);
