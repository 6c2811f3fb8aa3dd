import { Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ContractItem, OperationView, PortView } from '../../api/types';
import { Panel } from '../../common/Panel';
import { ErrorText } from '../../common/ui';
import { fitsText, isLong, ranked, useContract, useContracts, useFirst } from '../../contracts';
import { PanelHead } from '../PanelHead';
import css from './OperationList.module.css';

export interface TakenOperation {
  contract: string;
  version: number;
  port: PortView;
  operation: OperationView;
}

interface Props {
  title: string;
  contract?: string;
  take: (what: TakenOperation) => void;
  remove: () => void;
  error?: Error | null;
  /** Whether those of plain HTTP can be taken, too. */
  soapOnly?: boolean;
  children?: React.ReactNode;
}

/** The contracts, and the operations of the one that is chosen, to take one of. */
export function OperationList({ title, contract: given, take, remove, error, soapOnly, children }: Props) {
  const list = useContracts();
  const [name, setName] = useState(given);
  const chosen = name ?? (list.data?.length === 1 ? list.data[0].name : undefined);
  const contract = useContract(chosen);
  const isFirst = useFirst(chosen);
  const [text, setText] = useState('');
  const [all, setAll] = useState(false);
  const ports = (contract.data?.services.flatMap((s) => s.ports) ?? []).map((port) => ({
    port,
    usable: port.operations.filter((o) => !o.unusable && !(soapOnly && o.http)),
  }));
  const many = ports.some((p) => isLong(p.usable, isFirst));
  return (
    <Panel
      head={
        <PanelHead title={title} remove={remove}>
          <Select
            aria-label="contract"
            className={css.contract}
            placeholder="choose a contract"
            value={chosen}
            onChange={setName}
            options={list.data?.map((c) => ({ value: c.name, label: c.name }))}
          />
          {contract.data && (
            <Input
              allowClear
              aria-label="search operations"
              placeholder="search operations"
              className={css.search}
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          )}
          {children}
          {list.data?.length === 0 && <Link to="/contracts/import">import a contract first</Link>}
        </PanelHead>
      }
      bar={error && <ErrorText error={error} />}
    >
      {!chosen && !!list.data?.length && <Contracts all={list.data} choose={setName} />}
      {contract.data && (
        <table className="grid">
          <thead>
            <tr>
              <th>operation</th>
              <th>port</th>
              <th>protocol</th>
              <th>what it does</th>
            </tr>
          </thead>
          <tbody>
            {ports.flatMap(({ port, usable }) =>
              ranked(
                usable.filter((o) => fitsText(o, text)),
                { isFirst, isFolded: many && !all && !text },
              ).map((o) => (
                <Row
                  key={`${port.name}/${o.name}`}
                  port={port}
                  operation={o}
                  take={() =>
                    take({ contract: contract.data.name, version: contract.data.version, port, operation: o })
                  }
                />
              )),
            )}
          </tbody>
        </table>
      )}
      {many && !text && (
        <button className={`link soft ${css.more}`} onClick={() => setAll(!all)}>
          {all ? 'only those in use or marked' : 'all operations'}
        </button>
      )}
    </Panel>
  );
}

/** While none is chosen: all of them, each a click away. */
const Contracts = ({ all, choose }: { all: ContractItem[]; choose: (name: string) => void }) => (
  <table className="grid">
    <thead>
      <tr>
        <th>contract</th>
        <th className="num">operations</th>
        <th>service</th>
      </tr>
    </thead>
    <tbody>
      {all.map((c) => (
        <tr key={c.name} className="pick" onClick={() => choose(c.name)}>
          <td>
            <button className="link strong">{c.name}</button>
          </td>
          <td className="num">{c.summary.operations}</td>
          <td className="soft">{c.summary.services.join(', ')}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

const Row = ({ port, operation: o, take }: { port: PortView; operation: OperationView; take: () => void }) => (
  <tr className="pick" onClick={take}>
    <td>
      <button
        className="link strong"
        onClick={(e) => {
          e.stopPropagation();
          take();
        }}
      >
        {o.name}
      </button>
    </td>
    <td className="soft">{port.name}</td>
    <td className="soft nowrap">{port.protocol}</td>
    <td className="soft">{o.documentation}</td>
  </tr>
);
