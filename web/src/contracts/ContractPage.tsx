import { useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Input } from 'antd';
import { useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { api, seg } from '../api/client';
import type { ContractView, OperationView, PortView } from '../api/types';
import { plural, when } from '../common/format';
import { Problem, Status, Tabs } from '../common/ui';
import { Bench } from './Bench';
import { MessageShapes } from './MessageShapes';
import { RawWsdl } from './RawWsdl';

type Tab = 'bench' | 'shapes' | 'raw';

export function ContractPage() {
  const { name = '', port, operation } = useParams();
  const [search, setSearch] = useSearchParams();
  const contract = useQuery({ queryKey: ['contract', name], queryFn: () => api.get<ContractView>(`/contracts/${seg(name)}`) });
  if (contract.isPending) return null;
  if (contract.isError) return <div className="page"><Problem error={contract.error} /></div>;
  const c = contract.data;
  const ports = c.services.flatMap((s) => s.ports);
  const current = ports.find((p) => p.name === port) ?? ports.find((p) => p.operations.some((o) => !o.unusable)) ?? ports[0];
  const op = current?.operations.find((o) => o.name === operation) ?? current?.operations.find((o) => !o.unusable) ?? current?.operations[0];
  const tab = (search.get('show') as Tab | null) ?? (op && !op.unusable ? 'bench' : 'raw');
  const line = Number(search.get('line') ?? 0);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '268px minmax(0, 1fr)', minHeight: 0 }}>
      <Index contract={c} port={current} operation={op} onLine={(n, document) => setSearch({ show: 'raw', line: String(n), document })} />
      <section style={{ display: 'grid', gridTemplateRows: 'auto auto minmax(0, 1fr)', minHeight: 0, background: 'var(--panel)' }}>
        <div className="row" style={{ padding: '12px 18px 6px', minHeight: 46 }}>
          <h1>{op?.name ?? c.name}</h1>
          <span className="soft cut">{op?.documentation ?? c.documentation}</span>
          {op && <span className="push faint small nowrap">{op.style} / {op.use}{op.direction === 'one way' ? ', one way' : ''}</span>}
        </div>
        <Tabs<Tab> value={tab} onChange={(t) => setSearch(t === 'bench' ? {} : { show: t })} items={[{ id: 'bench', label: 'Bench' }, { id: 'shapes', label: 'Message shapes' }, { id: 'raw', label: 'Raw WSDL' }]} />
        {tab === 'raw' || !op || !current ? <RawWsdl contract={c} line={line} document={search.get('document')} />
          : op.unusable ? <div className="empty"><h1>This operation cannot be called</h1>{op.unusable}</div>
            : tab === 'shapes' ? <MessageShapes contract={name} port={current.name} operation={op} />
              : <Bench key={`${current.name}/${op.name}`} contract={name} port={current} operation={op} />}
      </section>
    </div>
  );
}

const size = (o: OperationView) => (o.unusable ? 'unusable' : o.direction === 'one way' ? 'one way' : `${o.requestFields} → ${o.answerFields ?? 0}`);

function Index({ contract: c, port, operation, onLine }: { contract: ContractView; port?: PortView; operation?: OperationView; onLine: (line: number, document: string) => void }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const [text, setText] = useState('');
  const ports = useMemo(() => c.services.flatMap((s) => s.ports), [c]);
  const fits = (o: OperationView) => `${o.name} ${o.documentation ?? ''}`.toLowerCase().includes(text.toLowerCase());
  const same = (p: PortView) => ports[0] !== p && p.operations.map((o) => o.name).join() === ports[0].operations.map((o) => o.name).join();
  const remove = () => modal.confirm({ title: `Remove ${c.name}?`, content: 'Its versions go with it. Flows that call it will say so.', okText: 'Remove', okButtonProps: { danger: true }, onOk: async () => { await api.delete(`/contracts/${seg(c.name)}`); await queries.invalidateQueries(); void go('/contracts'); } });
  return (
    <aside className="side">
      <div className="hd"><h1>{c.name}</h1><span className="soft small">version {c.version} · read {when(c.readAt)}</span></div>
      <div className="hd"><Input size="small" allowClear placeholder="search names and notes" value={text} onChange={(e) => setText(e.target.value)} /></div>
      {ports.map((p) => (
        <div key={p.name}>
          <div className="row soft small" style={{ padding: '8px 16px 2px', justifyContent: 'space-between' }}><span className="cut">port <b style={{ color: 'var(--ink)' }}>{p.name}</b></span><span className="nowrap">{p.protocol}</span></div>
          {same(p) && p !== port && !text
            ? <button className="item soft" onClick={() => void go(`/contracts/${seg(c.name)}/${seg(p.name)}/${seg(operation?.name ?? p.operations[0].name)}`)}><span>the same {plural(p.operations.length, 'operation')}</span></button>
            : p.operations.filter(fits).map((o) => (
              <button key={o.name} className={`item ${p === port && o === operation ? 'on' : ''}`} onClick={() => void go(`/contracts/${seg(c.name)}/${seg(p.name)}/${seg(o.name)}`)}>
                <span className="cut" title={o.documentation}>{o.name}</span><span className="faint nowrap num" title="fields in the request → in the answer">{size(o)}</span>
              </button>
            ))}
        </div>
      ))}
      <div style={{ padding: '8px 16px', borderTop: '1px solid var(--line)', marginTop: 12 }} className="small">
        {c.notes.length === 0 ? <Status mood="ok">no reading notes</Status> : <Status mood={c.notes.some((n) => n.severity === 'ERROR') ? 'bad' : 'warn'}>{plural(c.notes.length, 'reading note')}</Status>}
        {c.notes.map((n, i) => (
          <div key={i} className="soft" style={{ marginTop: 6, overflowWrap: 'anywhere' }}>
            {n.place?.line ? <button className="link soft" onClick={() => onLine(n.place.line!, n.place.document!)}>line {n.place.line}</button> : null} {n.text} {n.assumed}
            {n.section ? <span className="faint"> {n.section}</span> : null}
          </div>
        ))}
      </div>
      <div style={{ padding: '8px 16px' }}><Button size="small" type="text" onClick={remove}>Remove this contract</Button></div>
    </aside>
  );
}
