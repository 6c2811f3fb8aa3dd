import { Input, Select } from 'antd';
import type { ShapeRow } from '../api/types';
import type { BenchState } from './benchRules';
import { name } from './MessageShapes';

const PLACEHOLDERS: Record<string, string> = { dateTime: '2031-04-02T21:40:00', date: '2031-04-02', time: '21:40:00', duration: 'P1DT2H' };
const base = (type: string) => type.slice(type.lastIndexOf(' ') + 1);

/** A row of the request: a typed field, a kind or branch to choose, or just a heading. */
export function BenchRow({ row: r, state, setState, rows, problem, tried }: { row: ShapeRow; state: BenchState; setState: (s: BenchState) => void; rows: ShapeRow[]; problem?: { code: string; text: string }; tried: boolean }) {
  const value = state.values[r.path] ?? '';
  const set = (v: string) => setState({ ...state, values: { ...state.values, [r.path]: v } });
  const saysSo = problem && (problem.code === 'value' || tried);
  const options = r.values ?? (base(r.type) === 'boolean' ? ['true', 'false'] : null);
  return (
    <div className="benchrow">
      <span className="mono cut" style={{ paddingLeft: 18 + r.depth * 14 }} title={r.documentation ?? r.path}>
        {name(r)}{r.required && r.hasText && <span style={{ color: 'var(--copper)' }} title="required"> *</span>}
        {r.closed && <button className="link faint" style={{ marginLeft: 6 }} onClick={() => setState({ ...state, opened: [...state.opened, r.path] })}>open</button>}
      </span>
      <span className="soft small cut" title={r.limits ?? r.type}>{r.kind === 'choice' ? '' : r.type}</span>
      <span className="row" style={{ gap: 8 }}>
        {r.kinds && <Select size="small" style={{ minWidth: 150 }} aria-label={`kind of ${r.name}`} placeholder={`one of ${r.kinds.length} kinds`} allowClear value={state.kinds[r.path] || undefined}
          onChange={(k) => setState({ ...state, kinds: { ...state.kinds, [r.path]: k ?? '' } })} options={[...(r.isAbstract ? [] : [{ value: '', label: 'as declared' }]), ...r.kinds.map((k) => ({ value: k.id, label: k.name }))]} />}
        {r.kind === 'choice' && <Select size="small" style={{ minWidth: 150 }} aria-label="branch" placeholder={r.required ? 'choose one' : 'none'} allowClear value={state.branches[r.path] || undefined}
          onChange={(b) => setState({ ...state, branches: { ...state.branches, [r.path]: b ?? '' } })}
          options={rows.filter((x) => x.path.startsWith(`${r.path}/`) && !x.path.slice(r.path.length + 1).includes('/')).map((x) => ({ value: x.path.slice(r.path.length + 1), label: name(x) }))} />}
        {r.hasText && (options
          ? <Select size="small" showSearch allowClear style={{ width: 200 }} aria-label={r.name} placeholder={r.required ? '' : 'optional'} value={value || undefined} status={saysSo ? 'error' : undefined} onChange={(v) => set(v ?? '')} options={options.map((v) => ({ value: v, label: v }))} />
          : r.kind === 'any' ? <Input.TextArea aria-label="any element" autoSize className="mono" placeholder="<free xml/>" value={value} onChange={(e) => set(e.target.value)} />
            : <Input size="small" className="mono" style={{ width: 200, flex: 'none' }} aria-label={r.name} title={r.limits ?? undefined} placeholder={r.fixed ?? (r.defaultValue != null ? `default ${r.defaultValue}` : PLACEHOLDERS[base(r.type)] ?? (r.required ? '' : 'optional'))}
              status={saysSo ? 'error' : undefined} value={value} onChange={(e) => set(e.target.value)} />)}
      </span>
      {saysSo && <span className="problem" style={{ gridColumn: '2 / 4', textAlign: 'right', paddingBottom: 4 }}>{problem.text}</span>}
    </div>
  );
}
