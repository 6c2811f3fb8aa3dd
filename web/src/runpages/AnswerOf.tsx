import { useState } from 'react';
import type { PageAnswer, PageForm, ShownField } from '../api/types';
import { save } from './asking';
import { shownOf, valueAt, words, type ShownTable } from './shown';
import css from './RunPage.module.css';

const FIRST_ROWS = 100;

interface Props {
  form: PageForm;
  answer: PageAnswer;
  /** When it was asked, in milliseconds. */
  at: number;
  /** Absent where there is nobody to ask, such as in a preview. */
  workbook?: () => void;
  again?: () => void;
}

/** What came of asking, in the owner's words. */
export function AnswerOf({ form, answer, at, workbook, again }: Props) {
  const shown = shownOf(form, answer.reply);
  const hasSome = shown.values.length + shown.tables.length > 0;
  const isDone = answer.outcome === 'DONE';
  const mood = isDone ? '' : answer.outcome === 'FAILED' || answer.outcome === 'REFUSED' ? css.bad : css.warn;
  return (
    <section className={css.result} aria-label="answer" aria-live="polite">
      {isDone ? (
        <>
          <div className={css.head}>
            <h2>{answer.title}</h2>
            <span className="soft num nowrap">asked at {clock(at)}</span>
          </div>
          {answer.text && <p className={css.text}>{answer.text}</p>}
        </>
      ) : (
        <div className={`${css.notice} ${mood}`}>
          <strong>
            <span aria-hidden="true">{mood === css.bad ? '■' : '▲'}</span> {answer.title}
          </strong>
          {answer.text && <p>{answer.text}</p>}
          <p className="soft">
            {answer.reference ? `If you ask for help, say the number ${answer.reference}, ` : 'Asked '}
            {answer.reference ? `asked at ${clock(at)}.` : `at ${clock(at)}.`}
          </p>
        </div>
      )}
      {shown.values.length > 0 && (
        <dl className={css.values}>
          {shown.values.map((v) => (
            <div key={v.label}>
              <dt>{v.label}</dt>
              <dd className="num">
                <Value of={v.field} value={v.value} />
              </dd>
            </div>
          ))}
        </dl>
      )}
      {shown.tables.map((t) => (
        <Table key={t.label} of={t} />
      ))}
      {answer.notes?.map((n) => (
        <div key={n.title} className={`${css.notice} ${css.warn}`}>
          <strong>
            <span aria-hidden="true">▲</span> {n.title}
          </strong>
          {n.text && <p>{n.text}</p>}
        </div>
      ))}
      <div className={css.deeds}>
        {hasSome && workbook && (
          <button type="button" className={css.plain} onClick={workbook}>
            Save as XLSX
          </button>
        )}
        {again && answer.outcome !== 'UNKNOWN' && (
          <button type="button" className={css.plain} onClick={again}>
            Ask again
          </button>
        )}
      </div>
    </section>
  );
}

const clock = (at: number) => {
  const d = new Date(at);
  return `${String(d.getHours()).padStart(2, '0')}:${String(d.getMinutes()).padStart(2, '0')}`;
};

function Table({ of: t }: { of: ShownTable }) {
  const [most, setMost] = useState(FIRST_ROWS);
  if (t.rows.length === 0)
    return t.label ? (
      <p className="soft">
        {t.label}: <span>none</span>
      </p>
    ) : null;
  return (
    // A wide table is moved by keyboard, too.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
    <div className={css.scroll} role="region" aria-label={t.label || 'table'} tabIndex={0}>
      <table className={css.table}>
        {t.label && <caption>{t.label}</caption>}
        <thead>
          <tr>
            {t.columns.map((c) => (
              <th key={c.name} className={isNumber(c) ? css.n : undefined}>
                {c.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {t.rows.slice(0, most).map((r, n) => (
            <tr key={n}>
              {t.columns.map((c) => (
                <td key={c.name} className={`num ${isNumber(c) ? css.n : ''}`}>
                  <Value of={c} value={valueAt(r, c.name)} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {t.rows.length > most && (
        <button type="button" className="link" onClick={() => setMost(most + 10 * FIRST_ROWS)}>
          {t.rows.length - most} more rows
        </button>
      )}
    </div>
  );
}

const isNumber = (f: ShownField) => f.kind === 'number' || f.kind === 'integer';

function Value({ of: f, value }: { of: ShownField; value: unknown }) {
  if (f.kind !== 'bytes' && f.kind !== 'file') return <>{words(f, value) || <span className="faint">–</span>}</>;
  if (typeof value !== 'string' || value === '') return <span className="faint">no file</span>;
  return (
    <button type="button" className="link" onClick={() => save(blobOf(f, value), f.label)}>
      save
    </button>
  );
}

function blobOf(f: ShownField, value: string): Blob {
  if (f.kind === 'file') return new Blob([value], { type: 'text/plain' });
  const binary = atob(value.replace(/\s/g, ''));
  return new Blob([Uint8Array.from(binary, (ch) => ch.charCodeAt(0))]);
}
