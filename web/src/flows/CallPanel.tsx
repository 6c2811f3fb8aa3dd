import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, InputNumber, Select, Switch } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type {
  ConnectionView,
  ContractItem,
  ContractView,
  FillView,
  Rule,
  Specimen,
  StepOf,
  TriedCall,
} from '../api/types';
import { millis } from '../common/format';
import { Problem, Status, Tabs } from '../common/ui';
import { XmlText } from '../common/XmlText';
import { FillTable } from './FillTable';
import { PanelHead } from './PanelHead';
import { merged } from './values';
import { withStep, type Where } from './where';

type Call = StepOf<'call'>;
type Tab = 'fill' | 'exchange' | 'settings';

export function CallPanel({
  step,
  set,
  remove,
  where,
  specimen,
}: {
  step: Call;
  set: (s: Call) => void;
  remove: () => void;
  where: Where;
  specimen?: Specimen;
}) {
  const queries = useQueryClient();
  const [tab, setTab] = useState<Tab>('fill');
  const [draft, setDraft] = useState<Rule>();
  const rules = draft ? merged(step.fill, draft) : step.fill;
  const [opened, setOpened] = useState<string[]>([]);
  const asked = { ...withStep(where, { ...step, fill: rules }), opened };
  const fill = useQuery({
    queryKey: [
      'fill',
      step.contract,
      step.port,
      step.operation,
      rules,
      opened,
      where.number,
      where.environment,
      where.definition.steps[0],
    ],
    enabled: !!step.operation && !!step.contract,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<FillView>('/design/fill', asked, signal),
  });
  const tried = useMutation({
    mutationFn: () => api.post<TriedCall>('/design/try', where),
    onSuccess: () => {
      setTab('exchange');
      void queries.invalidateQueries({ queryKey: ['kept', where.flow] });
      void queries.invalidateQueries({ queryKey: ['pick'] });
    },
  });
  const contracts = useQuery({ queryKey: ['contracts'], queryFn: () => api.get<ContractItem[]>('/contracts') });
  const current = contracts.data?.find((c) => c.name === step.contract)?.version;
  const newer = current && step.version && current > step.version ? current : undefined;
  if (!step.operation) return <ChooseOperation step={step} set={set} remove={remove} />;
  const f = fill.data;
  const leaves = f?.rows.filter((r) => r.hasText && r.required) ?? [];
  const open = f?.unfilled.length ?? 0;
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateRows: 'auto auto minmax(0, 1fr)',
        gridTemplateColumns: 'minmax(0, 1fr)',
        minHeight: 0,
      }}
    >
      <PanelHead title={step.operation} remove={remove}>
        <span className="soft cut">
          {step.contract}
          {step.version ? ` v${step.version}` : ''}
          {step.port ? `, port ${step.port}` : ''}
          {step.connection ? (
            <>
              {' '}
              over <Link to={`/connections/${seg(step.connection)}`}>{step.connection}</Link>
            </>
          ) : null}
        </span>
        {newer && (
          <Link
            className="st warn nowrap"
            to={`/contracts/${seg(step.contract!)}?show=changes&from=${step.version}&to=${newer}`}
            title="See what changed, and move this flow to it"
          >
            version {newer} is there
          </Link>
        )}
        <Button
          size="small"
          type={open === 0 && !tried.data ? 'primary' : 'default'}
          disabled={!step.connection || open > 0}
          loading={tried.isPending}
          onClick={() => tried.mutate()}
          title={
            open > 0
              ? `${missing(f?.unfilled ?? [])} required and not filled`
              : 'Calls once for the specimen and keeps the answer for the next steps'
          }
        >
          Try the call
        </Button>
        {open > 0 && <Status mood="warn">{missing(f?.unfilled ?? [])} required</Status>}
        {tried.data && (
          <Status mood={tried.data.failure ? 'bad' : 'ok'}>
            {tried.data.status || tried.data.outcome}{' '}
            <span className="soft num" style={{ fontWeight: 400 }}>
              {millis(tried.data.micros / 1000)}
            </span>
          </Status>
        )}
      </PanelHead>
      <Tabs<Tab>
        value={tab}
        onChange={setTab}
        items={[
          {
            id: 'fill',
            label: (
              <>
                Fill{' '}
                <span className="num faint">
                  {leaves.length - leaves.filter((l) => f?.unfilled.includes(l.path)).length} / {leaves.length} required
                </span>
              </>
            ),
          },
          { id: 'exchange', label: 'Exchange' },
          {
            id: 'settings',
            label: (
              <>
                Operation and limits
                {!step.connection && (
                  <span className="st warn" style={{ marginLeft: 6 }}>
                    no connection
                  </span>
                )}
              </>
            ),
          },
        ]}
      />
      {tab === 'settings' ? (
        <Settings step={step} set={set} />
      ) : tab === 'exchange' ? (
        <Exchange where={where} tried={tried.data} error={tried.error} />
      ) : fill.isError && !f ? (
        <div style={{ padding: 18 }}>
          <Problem error={fill.error} />
        </div>
      ) : f ? (
        <FillTable
          key={`${step.contract}/${step.operation}`}
          fill={f}
          rules={step.fill}
          setRules={(r) => set({ ...step, fill: r })}
          draft={draft}
          setDraft={setDraft}
          specimen={specimen}
          where={where}
          open={(p) => setOpened([...opened, p])}
        />
      ) : (
        <div />
      )}
    </div>
  );
}

const missing = (paths: string[]) =>
  `${paths
    .slice(0, 3)
    .map((p) => p.split('/').pop())
    .join(', ')}${paths.length > 3 ? ` and ${paths.length - 3} more` : ''} ${paths.length === 1 ? 'is' : 'are'}`;

function Exchange({ where, tried, error }: { where: Where; tried?: TriedCall; error: unknown }) {
  const kept = useQuery({
    queryKey: ['kept', where.flow, where.step],
    retry: false,
    queryFn: () => api.get<TriedCall>(`/design/${where.flow}/answers/${where.step}`).catch(() => null),
  });
  const x = tried ?? kept.data;
  if (error)
    return (
      <div style={{ padding: 18 }}>
        <Problem error={error} />
      </div>
    );
  if (!x)
    return (
      <div className="empty">
        <h1>No exchange yet</h1>Try the call: both messages will be shown here, and the answer is kept for the steps
        after it.
      </div>
    );
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', minHeight: 0 }}>
      <div className="scroll" style={{ padding: '10px 18px', borderRight: '1px solid var(--line)' }}>
        <h2 style={{ marginBottom: 6 }}>Request</h2>
        <XmlText xml={x.request} />
      </div>
      <div className="scroll" style={{ padding: '10px 18px' }}>
        <h2 style={{ marginBottom: 6 }}>Answer</h2>
        {x.failure && (
          <div className="notice" style={{ marginBottom: 8 }}>
            {x.failure}
          </div>
        )}
        <XmlText xml={x.answer} />
      </div>
    </div>
  );
}

function Settings({ step, set }: { step: Call; set: (s: Call) => void }) {
  const connections = useQuery({ queryKey: ['connections'], queryFn: () => api.get<ConnectionView[]>('/connections') });
  const soap = (connections.data ?? []).filter((c) => c.kind === 'soap');
  return (
    <div className="scroll" style={{ padding: '6px 18px 18px' }}>
      <label className="field-label">Operation</label>
      <span className="mono">
        {step.contract} · {step.port ?? 'first port'} · {step.operation}
      </span>{' '}
      <button className="link soft small" onClick={() => set({ ...step, operation: undefined })}>
        choose another; what fits of the fill stays
      </button>
      <label className="field-label">Connection</label>
      <Select
        aria-label="connection"
        style={{ width: 260 }}
        placeholder="choose a connection"
        value={step.connection}
        onChange={(v) => set({ ...step, connection: v })}
        options={soap.map((c) => ({ value: c.name, label: c.name }))}
      />{' '}
      <Link className="soft small" to="/connections/new">
        add one
      </Link>
      <label className="field-label" htmlFor="parallel">
        Calls at a time (within the connection’s limit)
      </label>
      <InputNumber
        id="parallel"
        min={1}
        max={256}
        placeholder="4"
        value={step.parallel}
        onChange={(v) => set({ ...step, parallel: v ?? undefined })}
      />
      <label className="field-label">Safe to repeat</label>
      <Switch checked={!!step.safeToRepeat} onChange={(v) => set({ ...step, safeToRepeat: v || undefined })} />{' '}
      <span className="soft small">
        {step.safeToRepeat
          ? 'A call without a known answer may be sent again.'
          : 'A call without a known answer is never sent again by itself; its record is in doubt.'}
      </span>
      <TakenFaults step={step} set={set} />
    </div>
  );
}

/** Faults that are answers here: a record that gets one goes on, its detail being the answer. */
function TakenFaults({ step, set }: { step: Call; set: (s: Call) => void }) {
  const contract = useQuery({
    queryKey: ['contract', step.contract],
    enabled: !!step.contract,
    queryFn: () => api.get<ContractView>(`/contracts/${seg(step.contract!)}`),
  });
  const operations =
    contract.data?.services
      .flatMap((s) => s.ports)
      .filter((p) => !step.port || p.name === step.port)
      .flatMap((p) => p.operations) ?? [];
  const declared = operations.find((o) => o.name === step.operation)?.faults ?? [];
  return (
    <>
      <label className="field-label" htmlFor="taken">
        Faults that are answers
      </label>
      <Select
        id="taken"
        mode="tags"
        style={{ width: 420 }}
        aria-label="faults that are answers"
        placeholder="none: any fault sets its record aside"
        value={step.takenFaults ?? []}
        onChange={(v: string[]) => set({ ...step, takenFaults: v.length ? v : undefined })}
        options={declared.map((d) => ({ value: d, label: d }))}
      />
      <div className="soft small">Their detail is then the answer: the steps after it can pick its fields.</div>
    </>
  );
}

function ChooseOperation({ step, set, remove }: { step: Call; set: (s: Call) => void; remove: () => void }) {
  const queries = useQueryClient();
  const list = useQuery({ queryKey: ['contracts'], queryFn: () => api.get<ContractItem[]>('/contracts') });
  const connections = useQuery({ queryKey: ['connections'], queryFn: () => api.get<ConnectionView[]>('/connections') });
  const [name, setName] = useState(step.contract);
  const chosen = name ?? (list.data?.length === 1 ? list.data[0].name : undefined);
  const contract = useQuery({
    queryKey: ['contract', chosen],
    enabled: !!chosen,
    queryFn: () => api.get<ContractView>(`/contracts/${seg(chosen!)}`),
  });
  const take = useMutation({
    mutationFn: async ({ port, operation, address }: { port: string; operation: string; address?: string }) => {
      const soap = (connections.data ?? []).filter((c) => c.kind === 'soap');
      let connection =
        step.connection ?? soap.find((c) => Object.values(c.settings.urls).includes(address as never))?.name;
      if (!connection && address) {
        // Nothing leads there yet: the contract's own address becomes a connection.
        connection = chosen!.toLowerCase().replace(/[^a-z0-9]+/g, '-');
        if (!soap.some((c) => c.name === connection))
          await api.put(`/connections/${seg(connection)}`, { kind: 'soap', settings: { urls: { test: address } } });
        await queries.invalidateQueries({ queryKey: ['connections'] });
      }
      return {
        ...step,
        contract: chosen,
        version: contract.data?.version,
        port,
        operation,
        connection: connection ?? soap[0]?.name,
      };
    },
    onSuccess: (s) => set(s),
  });
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', minHeight: 0 }}>
      <PanelHead title="Call" remove={remove}>
        <Select
          aria-label="contract"
          style={{ width: 240 }}
          placeholder="choose a contract"
          value={chosen}
          onChange={setName}
          options={list.data?.map((c) => ({ value: c.name, label: c.name }))}
        />
        {list.data?.length === 0 && <Link to="/contracts/import">import a contract first</Link>}
      </PanelHead>
      <div className="scroll">
        {take.isError && <Problem error={take.error} />}
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
              {contract.data.services
                .flatMap((s) => s.ports)
                .flatMap((p) =>
                  p.operations
                    .filter((o) => !o.unusable)
                    .map((o) => (
                      <tr
                        key={`${p.name}/${o.name}`}
                        className="pick"
                        onClick={() => take.mutate({ port: p.name, operation: o.name, address: p.address })}
                      >
                        <td>
                          <button className="link" style={{ fontWeight: 500 }}>
                            {o.name}
                          </button>
                        </td>
                        <td className="soft">{p.name}</td>
                        <td className="soft nowrap">{p.protocol}</td>
                        <td className="soft">{o.documentation}</td>
                      </tr>
                    )),
                )}
            </tbody>
          </table>
        )}
      </div>
    </div>
  );
}
