import { Input, Select } from 'antd';
import type { ShapeRow } from '../api/types';
import { added, occurrence, removed, type BenchState } from './benchRules';
import { KindSelect } from './KindSelect';
import { name, type ShapeWish } from './shape';
import css from './BenchRow.module.css';
import { indent } from '../common/place';

const PLACEHOLDERS: Record<string, string> = {
  dateTime: '2031-04-02T21:40:00',
  date: '2031-04-02',
  time: '21:40:00',
  duration: 'P1DT2H',
};
const base = (type: string) => type.slice(type.lastIndexOf(' ') + 1);

/** A row of the request: a typed field, a kind or branch to choose, or just a heading. */
export function BenchRow({
  row: r,
  state,
  setState,
  rows,
  wish,
  problem,
  tried,
}: {
  row: ShapeRow;
  state: BenchState;
  setState: (s: BenchState) => void;
  rows: ShapeRow[];
  wish: ShapeWish;
  problem?: { code: string; text: string };
  tried: boolean;
}) {
  const value = state.values[r.path] ?? '';
  const set = (v: string) => setState({ ...state, values: { ...state.values, [r.path]: v } });
  const isNil = state.nils.includes(r.path);
  const setNil = () =>
    setState({ ...state, nils: isNil ? state.nils.filter((p) => p !== r.path) : [...state.nils, r.path] });
  const { base: basePath, n } = occurrence(r.path);
  const isLast = n === (state.counts[basePath] ?? 1);
  const saysSo = problem && (problem.code === 'value' || tried);
  const options = r.values ?? (base(r.type ?? '') === 'boolean' ? ['true', 'false'] : null);
  return (
    <div className="benchrow">
      <span className="mono cut" style={indent(r.depth, 18)} title={r.documentation ?? r.path}>
        {name(r)}
        {r.required && r.hasText && (
          <span className={css.text} title="required">
            {' '}
            *
          </span>
        )}
        {r.closed && (
          <button
            className={`link faint ${css.action}`}
            onClick={() => setState({ ...state, opened: [...state.opened, r.path] })}
          >
            open
          </button>
        )}
      </span>
      <span className="soft small cut" title={r.limits ?? r.type}>
        {r.kind === 'choice' ? '' : r.type}
      </span>
      <span className={`row ${css.bar}`}>
        {r.kinds && !isNil && (
          <KindSelect
            bordered
            row={r}
            wish={wish}
            taken={state.kinds[r.path]}
            take={(k) => setState({ ...state, kinds: { ...state.kinds, [r.path]: k } })}
          />
        )}
        {r.kind === 'choice' && (
          <Select
            size="small"
            className={css.branch}
            aria-label="branch"
            placeholder={r.required ? 'choose one' : 'none'}
            allowClear
            value={state.branches[r.path] || undefined}
            onChange={(b) => setState({ ...state, branches: { ...state.branches, [r.path]: b ?? '' } })}
            options={rows
              .filter((x) => x.path.startsWith(`${r.path}/`) && !x.path.slice(r.path.length + 1).includes('/'))
              .map((x) => ({ value: x.path.slice(r.path.length + 1), label: name(x) }))}
          />
        )}
        {isNil ? (
          <span className="faint">nil</span>
        ) : (
          r.hasText &&
          (options ? (
            <Select
              size="small"
              showSearch
              allowClear
              className={css.input}
              aria-label={r.name}
              placeholder={r.required ? '' : 'optional'}
              value={value || undefined}
              status={saysSo ? 'error' : undefined}
              onChange={(v) => set(v ?? '')}
              options={options.map((v) => ({ value: v, label: v }))}
            />
          ) : r.kind === 'any' || r.kind === 'any attribute' ? (
            <Input.TextArea
              aria-label={r.kind}
              autoSize
              className="mono"
              placeholder={r.kind === 'any' ? '<free xml/>' : 'name="value"'}
              value={value}
              onChange={(e) => set(e.target.value)}
            />
          ) : (
            <Input
              size="small"
              className={`mono ${css.input}`}
              aria-label={r.name}
              title={r.limits ?? undefined}
              placeholder={
                r.fixed ??
                (r.defaultValue != null
                  ? `default ${r.defaultValue}`
                  : (PLACEHOLDERS[base(r.type ?? '')] ?? (r.required ? '' : 'optional')))
              }
              status={saysSo ? 'error' : undefined}
              value={value}
              onChange={(e) => set(e.target.value)}
            />
          ))
        )}
        {r.nillable && (
          <button
            className={`link small nowrap ${isNil ? '' : 'faint'}`}
            aria-pressed={isNil}
            title={isNil ? 'Give a value instead' : 'Send it as nil'}
            onClick={setNil}
          >
            {isNil ? 'give a value' : 'nil'}
          </button>
        )}
        {r.repeated && (
          <span className={`push row nowrap ${css.bar2}`}>
            {isLast && (
              <button
                className="link faint small"
                aria-label={`another ${r.name}`}
                title="Give it once more"
                onClick={() => setState(added(state, r.path))}
              >
                + another
              </button>
            )}
            {r.occurrence && (
              <button
                className="link faint small"
                aria-label={`without ${r.name} ${n}`}
                title="Take this one away"
                onClick={() => setState(removed(state, r.path))}
              >
                −
              </button>
            )}
          </span>
        )}
      </span>
      {saysSo && <span className={`problem ${css.text2}`}>{problem.text}</span>}
    </div>
  );
}
