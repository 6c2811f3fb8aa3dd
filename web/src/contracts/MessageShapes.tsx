import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { OperationView, ShapeRow } from '../api/types';
import { Problem } from '../common/ui';

/** A message's shape, as rows. `kinds` and `opened` change what is laid out. */
export function useShape(contract: string, port: string, operation: string, part: string, kinds: Record<string, string>, opened: string[]) {
  return useQuery({
    queryKey: ['shape', contract, port, operation, part, kinds, opened],
    queryFn: () => api.post<{ rows: ShapeRow[] }>(`/contracts/${seg(contract)}/shape`, { port, operation, part, kinds, opened }).then((r) => r.rows),
    staleTime: 60_000, placeholderData: keepPreviousData,
  });
}

export function MessageShapes({ contract, port, operation }: { contract: string; port: string; operation: OperationView }) {
  const parts = [{ id: 'request', label: 'Request' }, ...(operation.answerFields != null ? [{ id: 'answer', label: 'Answer' }] : []), ...operation.faults.map((f) => ({ id: `fault:${f}`, label: `Fault ${f}` }))];
  return <div className="scroll">{parts.map((p) => <Part key={p.id} contract={contract} port={port} operation={operation.name} part={p.id} label={p.label} />)}</div>;
}

function Part({ contract, port, operation, part, label }: { contract: string; port: string; operation: string; part: string; label: string }) {
  const [kinds, setKinds] = useState<Record<string, string>>({});
  const [opened, setOpened] = useState<string[]>([]);
  const shape = useShape(contract, port, operation, part, kinds, opened);
  return (
    <section style={{ padding: '14px 0 10px' }}>
      <h2 style={{ padding: '0 18px 6px' }}>{label}</h2>
      {shape.isError && <Problem error={shape.error} />}
      <table className="grid fixed">
        <colgroup><col style={{ width: '28%' }} /><col style={{ width: 150 }} /><col style={{ width: 60 }} /><col style={{ width: '20%' }} /><col /></colgroup>
        <thead><tr><th>element</th><th>type</th><th>occurs</th><th>limits</th><th>documentation</th></tr></thead>
        <tbody>
          {(shape.data ?? []).map((r) => (
            <tr key={r.path}>
              <td className="mono cut" style={{ paddingLeft: 18 + r.depth * 14 }} title={r.path}>{name(r)}{r.closed && <button className="link faint" style={{ marginLeft: 8 }} onClick={() => setOpened([...opened, r.path])}>open</button>}</td>
              <td className="soft cut">{r.kinds ? <Select size="small" variant="borderless" style={{ width: '100%', marginLeft: -7 }} aria-label={`kind of ${r.name}`} value={r.taken ?? ''} onChange={(k) => setKinds({ ...kinds, [r.path]: k })}
                options={[{ value: '', label: r.isAbstract ? `${r.type || r.name}: ${r.kinds.length} kinds` : r.type || 'as declared' }, ...r.kinds.map((k) => ({ value: k.id, label: k.name }))]} /> : r.type}</td>
              <td className="num">{r.occurs}{r.nillable ? <span className="faint" title="may be nil"> nil</span> : null}</td>
              <td className="cut small" title={r.values?.join(', ') ?? r.limits}>{r.fixed != null ? `always ${r.fixed}` : r.limits}{r.defaultValue != null ? ` (default ${r.defaultValue})` : ''}</td>
              <td className="soft cut" title={r.documentation}>{r.documentation}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {shape.data?.length === 0 && <div className="soft" style={{ padding: '8px 18px' }}>This message is empty.</div>}
    </section>
  );
}

export const name = (r: ShapeRow) => (r.kind === 'attribute' ? `@${r.name}` : r.kind === 'choice' ? 'one of' : r.kind === 'group' ? 'group' : r.kind === 'any' ? 'any element' : r.header ? `header ${r.name}` : r.name);
