import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import type { ShapeRow } from '../../../api/types';
import { Suggest } from '../../../common/Suggest';
import { useConnectionsOf } from '../../../connections';
import { useContract, useContracts, useShape } from '../../../contracts';
import type { SourceDraft } from '../kind';
import { repeatsOf, typed, valueRows, withValue, type Asked } from './rules';
import css from './OperationSource.module.css';

const FEW = 6;

/** The operation, its request and what of its answer is a record. It is asked when that is wanted, never by typing. */
export function OperationSource({ settings, set }: SourceDraft) {
  const [asked, setAsked] = useState<Partial<Asked>>(settings.asked ?? {});
  const [connection, setConnection] = useState(settings.connection ?? undefined);
  const change = (by: Partial<Asked>) => setAsked((a) => ({ ...a, ...by }));
  const connections = useConnectionsOf('soap');
  const isReady = !!asked.contract && !!asked.operation && !!asked.rows?.trim() && !!connection;
  const read = () => set((s) => ({ ...s, connection, asked: asked as Asked }));
  return (
    <div className={css.settings}>
      <Which asked={asked} change={change} />
      <div className="row wrap">
        <span className="soft">over</span>
        <Select
          size="small"
          aria-label="connection"
          className={css.choice}
          placeholder="choose a connection"
          value={connection}
          onChange={setConnection}
          options={connections.map((c) => ({ value: c.name, label: c.name }))}
        />
      </div>
      {asked.contract && asked.operation && <Request asked={asked} change={change} />}
      {asked.contract && asked.operation && <Rows asked={asked} change={change} />}
      <div className="row">
        <Button type="primary" size="small" disabled={!isReady} onClick={read}>
          Ask for the records
        </Button>
        <span className="faint small">
          each look at this page, and each run, asks the service: take an operation that only reads
        </span>
      </div>
    </div>
  );
}

interface PartProps {
  asked: Partial<Asked>;
  change: (by: Partial<Asked>) => void;
}

function Which({ asked, change }: PartProps) {
  const contracts = useContracts();
  const contract = useContract(asked.contract);
  const operations = (contract.data?.services ?? [])
    .flatMap((s) => s.ports)
    .flatMap((port) => port.operations.filter((o) => !o.unusable).map((o) => ({ port: port.name, name: o.name })));
  return (
    <div className="row wrap">
      <span className="soft">asks</span>
      <Select
        size="small"
        aria-label="contract"
        className={css.choice}
        placeholder="choose a contract"
        value={asked.contract}
        onChange={(name) =>
          change({ contract: name, port: undefined, operation: undefined, fill: [], rows: undefined })
        }
        options={contracts.data?.map((c) => ({ value: c.name, label: c.name }))}
      />
      <Select
        size="small"
        showSearch
        aria-label="operation"
        className={css.choice}
        placeholder="choose an operation"
        value={asked.operation ? `${asked.port}/${asked.operation}` : undefined}
        onChange={(to) => {
          const at = to.indexOf('/');
          change({ port: to.slice(0, at), operation: to.slice(at + 1), fill: [], rows: undefined });
        }}
        options={operations.map((o) => ({ value: `${o.port}/${o.name}`, label: `${o.name}, ${o.port}` }))}
      />
    </div>
  );
}

const wish = (asked: Partial<Asked>, part: 'request' | 'answer') => ({
  contract: asked.contract ?? '',
  version: asked.version ?? undefined,
  port: asked.port ?? undefined,
  operation: asked.operation ?? '',
  part,
  kinds: {},
  opened: [],
});

/** The values of the request, the same for every page but for those that name the page. */
function Request({ asked, change }: PartProps) {
  const rows = valueRows(useShape(wish(asked, 'request')).data ?? []);
  const [all, setAll] = useState(false);
  const rules = asked.fill ?? [];
  const given = (r: ShapeRow) => rules.some((x) => x.path === r.path);
  const shown = all || rows.length <= FEW ? rows : rows.filter((r) => r.isNeeded || given(r));
  return (
    <>
      <div className={css.request}>
        {shown.map((r) => (
          <label key={r.path} className={css.value}>
            <span className={`mono small ${r.isNeeded ? '' : 'soft'}`} title={`${r.path}: ${r.type ?? ''}`}>
              {r.kind === 'attribute' ? `@${r.name}` : r.name}
            </span>
            <Input
              size="small"
              className="mono"
              aria-label={`value of ${r.path}`}
              placeholder={r.isNeeded ? 'required' : ''}
              value={typed(rules.find((x) => x.path === r.path))}
              onChange={(e) => change({ fill: withValue(rules, r.path, e.target.value) })}
            />
          </label>
        ))}
      </div>
      <div className="faint small">
        a leading &quot; makes a fixed text; <span className="mono">$page</span> counts from 1,{' '}
        <span className="mono">$reply</span> is the answer before{' '}
        {shown.length < rows.length && (
          <button className="link soft" onClick={() => setAll(true)}>
            show all {rows.length} values
          </button>
        )}
      </div>
    </>
  );
}

function Rows({ asked, change }: PartProps) {
  const repeats = repeatsOf(useShape(wish(asked, 'answer')).data ?? []);
  return (
    <div className="row wrap">
      <span className="soft">one record is each of</span>
      <Suggest
        mono
        label="one record is"
        width={230}
        placeholder={repeats[0] ?? '$reply/row'}
        value={asked.rows ?? ''}
        onChange={(rows) => change({ rows })}
        options={repeats}
      />
      <span className="soft">asked again while</span>
      <Input
        size="small"
        className={`mono ${css.more}`}
        aria-label="asked again while"
        placeholder="never: one page"
        value={asked.more ?? ''}
        onChange={(e) => change({ more: e.target.value || undefined })}
      />
    </div>
  );
}
