import { Popover } from 'antd';
import type { ReactNode } from 'react';
import type { Field, Preview, Tree } from '../api/types';
import { cellText, columnsOf, nodesAt, type RecordColumn } from './columns';
import { count } from './format';
import css from './RecordTable.module.css';

const isNumber = (f: Field) => f.type === 'integer' || f.type === 'decimal';
export const typeName = (f: Field) => (f.type === 'string' ? 'text' : f.type) + (f.pattern ? ` as ${f.pattern}` : '');

interface Props {
  fields: Field[];
  records: Tree[];
  /** Of the records, from 1; those of the first ones when they are not said. */
  numbers?: number[];
  unreadable?: Preview['unreadable'];
  /** The number of the record that is chosen. */
  chosen?: number;
  choose?: (number: number) => void;
  /** What can be done about a column, below what is known of it. */
  about?: (column: RecordColumn) => ReactNode;
}

/** Records with their inferred types; a value that does not fit is marked. One of them can be chosen. */
export function RecordTable({ fields, records, numbers, unreadable = [], chosen, choose, about }: Props) {
  const columns = columnsOf(fields);
  const why = new Map(unreadable.map((u) => [u.number, u.reason]));
  return (
    <table className="grid">
      <thead>
        <tr>
          <th className={`n ${css.number}`}>#</th>
          {columns.map((c) => (
            <th key={c.path.join('/')} className={isNumber(c.field) ? 'n' : ''}>
              <div
                className={`mono ${css.label}`}
                title={c.label === c.path.join('/') ? undefined : `in expressions: ${c.path.join('/')}`}
              >
                {c.label}
              </div>
              <Sure column={c} about={about} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {records.map((r, i) => {
          const n = numbers?.[i] ?? i + 1;
          return (
            <Row
              key={n}
              record={r}
              number={n}
              columns={columns}
              reason={why.get(n)}
              isChosen={chosen === n}
              choose={choose}
            />
          );
        })}
      </tbody>
    </table>
  );
}

interface RowProps {
  record: Tree;
  number: number;
  columns: RecordColumn[];
  reason?: string;
  isChosen: boolean;
  choose?: (number: number) => void;
}

function Row({ record, number: n, columns, reason, isChosen, choose }: RowProps) {
  return (
    <>
      <tr className={`${choose ? 'pick' : ''} ${isChosen ? css.chosen : ''}`} onClick={choose && (() => choose(n))}>
        <td className="n soft">
          {choose ? (
            <button
              className="link bare soft"
              aria-label={`record ${n}`}
              aria-pressed={isChosen}
              onClick={() => choose(n)}
            >
              {n}
            </button>
          ) : (
            n
          )}
        </td>
        {columns.map((c) => (
          <Value
            key={c.path.join('/')}
            field={c.field}
            text={cellText(nodesAt(record, c.path))}
            odd={c.field.seen?.disagreeing?.some((d) => d.record === n) ?? false}
          />
        ))}
      </tr>
      {reason && (
        <tr>
          <td />
          <td colSpan={columns.length} className={css.reason}>
            <span className="st bad breaks">set aside when it is read: {reason}</span>
          </td>
        </tr>
      )}
    </>
  );
}

const Value = ({ field: f, text, odd }: { field: Field; text?: string; odd: boolean }) => (
  <td className={[isNumber(f) ? 'n' : '', css.value, odd ? css.odd : ''].join(' ')}>
    <div className="cut">
      {text === undefined ? <span className="faint">blank</span> : text}
      {odd && <span className={`st warn ${css.mark}`} title={`not ${typeName(f)}`} />}
    </div>
  </td>
);

function Sure({ column, about }: { column: RecordColumn; about?: Props['about'] }) {
  const f = column.field;
  const seen = f.seen;
  const inside = f.type === 'nested' ? `${f.fields?.length ?? 0} fields inside` : typeName(f);
  const word = f.many ? `${inside}, repeats` : inside;
  if (!seen) return <div className="faint light">{word}</div>;
  const known = (
    <div className={css.about}>
      <div>
        {count(seen.sampled)} looked at, {count(seen.blank)} blank
        {f.type !== 'nested' &&
          (seen.distinct === undefined ? ', many different values' : `, ${count(seen.distinct)} different`)}
      </div>
      {seen.common && <div className="soft">{seen.common.map((c) => `${c.value} (${count(c.times)})`).join(', ')}</div>}
      {seen.odd > 0 && (
        <div>
          not {typeName(f)}: {seen.disagreeing?.map((d) => `“${d.value}” in record ${d.record}`).join(', ')}
        </div>
      )}
      {about?.(column)}
    </div>
  );
  return (
    <Popover content={known} trigger={['hover', 'click']} mouseEnterDelay={0.3}>
      <button className={`link bare light ${seen.odd ? 'st warn' : 'faint'}`}>
        {word}
        {seen.odd ? `, ${count(seen.odd)} odd` : ''}
        {seen.blank ? <span className="faint"> · {count(seen.blank)} blank</span> : null}
      </button>
    </Popover>
  );
}
