import { Checkbox, Input, Select } from 'antd';
import { shownParameters, TYPES, type HandOperation, type HandParameter } from './handMade';
import css from './HandMadePage.module.css';

const PLACES = [
  { value: 'QUERY' as const, label: 'query' },
  { value: 'HEADER' as const, label: 'header' },
  { value: 'COOKIE' as const, label: 'cookie' },
];
const NEW: HandParameter = { in: 'QUERY', name: '', type: 'TEXT', required: false, repeated: false };

interface Props {
  operation: HandOperation;
  edit: (change: Partial<HandOperation>) => void;
}

/** Values beside the body: those the path names are there by themselves. */
export function ParameterTable({ operation, edit }: Props) {
  const all = shownParameters(operation);
  const set = (at: number, change: Partial<HandParameter>) =>
    edit({ parameters: all.map((p, i) => (i === at ? { ...p, ...change } : p)) });
  return (
    <div>
      <h2>Values in the address and the headers</h2>
      {all.length > 0 && (
        <table className={`grid ${css.table}`}>
          <thead>
            <tr>
              <th>where</th>
              <th>name</th>
              <th>type</th>
              <th>always</th>
              <th>several</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {all.map((p, i) => (
              <tr key={i}>
                <td>
                  {p.in === 'PATH' ? (
                    'path'
                  ) : (
                    <Select
                      size="small"
                      aria-label={`place ${i + 1}`}
                      className={css.place}
                      value={p.in}
                      onChange={(v) => set(i, { in: v })}
                      options={PLACES}
                    />
                  )}
                </td>
                <td className={css.name}>
                  {p.in === 'PATH' ? (
                    <span className="mono">{p.name}</span>
                  ) : (
                    <Input
                      size="small"
                      className="mono"
                      aria-label={`parameter ${i + 1}`}
                      value={p.name}
                      onChange={(e) => set(i, { name: e.target.value })}
                    />
                  )}
                </td>
                <td>
                  <Select
                    size="small"
                    aria-label={`type of ${p.name || i + 1}`}
                    className={css.type}
                    value={p.type}
                    onChange={(type) => set(i, { type })}
                    options={TYPES}
                  />
                </td>
                <td>
                  <Checkbox
                    aria-label={`${p.name || i + 1} is always there`}
                    disabled={p.in === 'PATH'}
                    checked={p.required || p.in === 'PATH'}
                    onChange={(e) => set(i, { required: e.target.checked })}
                  />
                </td>
                <td>
                  {p.in !== 'PATH' && (
                    <Checkbox
                      aria-label={`${p.name || i + 1} may be there several times`}
                      checked={p.repeated}
                      onChange={(e) => set(i, { repeated: e.target.checked })}
                    />
                  )}
                </td>
                <td>
                  {p.in !== 'PATH' && (
                    <button
                      className="link faint small"
                      aria-label={`without ${p.name || i + 1}`}
                      onClick={() => edit({ parameters: all.filter((_, n) => n !== i) })}
                    >
                      −
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <button className="link soft small" onClick={() => edit({ parameters: [...all, NEW] })}>
        {all.length ? 'another value' : 'a value in the query or a header'}
      </button>
    </div>
  );
}
