import { Tooltip } from 'antd';
import type { Field, Tree } from '../api/types';
import css from './RecordTable.module.css';

const isNumber = (f: Field) => f.type === 'integer' || f.type === 'decimal';
export const typeName = (f: Field) => (f.type === 'string' ? 'text' : f.type) + (f.pattern ? ` as ${f.pattern}` : '');

interface Props {
  fields: Field[];
  records: Tree[];
  start?: number;
  /** The number of the record that is chosen. */
  chosen?: number;
  choose?: (number: number) => void;
}

/** Records with their inferred types; a value that does not fit is marked. One of them can be chosen. */
export function RecordTable({ fields, records, start = 1, chosen, choose }: Props) {
  return (
    <table className="grid">
      <thead>
        <tr>
          <th className={`n ${css.number}`}>#</th>
          {fields.map((f) => (
            <th key={f.name} className={isNumber(f) ? 'n' : ''}>
              <div className={`mono ${css.label}`} title={f.label === f.name ? undefined : `in expressions: ${f.name}`}>
                {f.label}
              </div>
              <Sure field={f} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {records.map((r, i) => (
          <tr
            key={i}
            className={`${choose ? 'pick' : ''} ${chosen === start + i ? css.chosen : ''}`}
            onClick={choose && (() => choose(start + i))}
          >
            <td className="n soft">
              {choose ? (
                <button
                  className="link bare soft"
                  aria-label={`record ${start + i}`}
                  aria-pressed={chosen === start + i}
                  onClick={() => choose(start + i)}
                >
                  {start + i}
                </button>
              ) : (
                start + i
              )}
            </td>
            {fields.map((f) => (
              <Value
                key={f.name}
                field={f}
                text={r.children?.find((c) => c.name === f.name)?.text}
                odd={f.disagreeing?.some((d) => d.record === start + i) ?? false}
              />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const Value = ({ field: f, text, odd }: { field: Field; text?: string; odd: boolean }) => (
  <td className={[isNumber(f) ? 'n' : '', css.value, odd ? css.odd : ''].join(' ')}>
    <div className="cut">
      {text === undefined || text === '' ? <span className="faint">blank</span> : text}
      {odd && <span className={`st warn ${css.mark}`} title={`not ${typeName(f)}`} />}
    </div>
  </td>
);

function Sure({ field: f }: { field: Field }) {
  const odd = f.disagreeing?.length ?? 0;
  if (!f.sampled) return <div className="faint light">{typeName(f)}</div>;
  const others = (f.disagreeing ?? []).map((d) => `“${d.value}” in record ${d.record}`).join(', ');
  const text = `${f.sampled} looked at, ${f.blank} blank${odd ? `; not ${typeName(f)}: ${others}` : ''}`;
  return (
    <Tooltip title={text}>
      <div className={`${odd ? 'st warn' : 'faint'} light`}>
        {typeName(f)}
        {odd ? `, ${odd} odd` : ''}
        {f.blank ? <span className="faint"> · {f.blank} blank</span> : null}
      </div>
    </Tooltip>
  );
}
