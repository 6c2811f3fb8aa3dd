import { rowNameOf } from '../../../common/problems';
import { useState } from 'react';
import type { PickedKind, TriedKind, Tree } from '../../../api/types';
import { plural } from '../../../common/format';
import { Scroll, Toolbar } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import css from './Result.module.css';

const SHOWN = 30;
const MOST = 500;

const textOf = (record: Tree, field: string) => record.children?.find((c) => c.name === field)?.text;

interface Props {
  view?: PickedKind;
  /** How the kind does on many answers. */
  tried?: TriedKind;
  answers: number;
  title: string;
  isEmpty: boolean;
}

const MOST_ANSWERS = 10;

/** The records that the pick makes of the kept answer, or of the first ones of a run. */
export function Result({ view, tried, answers, title, isEmpty }: Props) {
  const [all, setAll] = useState(false);
  const [ofMany, setOfMany] = useState(false);
  const many = ofMany && tried ? tried.rows : undefined;
  const records = many ? many.map((r) => r.record) : (view?.records ?? []);
  const fields = view?.fields ?? [];
  return (
    <Scroll label={title} className={css.result}>
      <Toolbar>
        <h2>{title}</h2>
        {many ? <span className="soft">{plural(records.length, 'record')}</span> : view && <Outcome view={view} />}
        {tried && tried.rows.length > 0 && (
          <button className="link soft push" onClick={() => setOfMany(!ofMany)}>
            {ofMany ? 'of this answer' : `of the first ${plural(Math.min(answers, MOST_ANSWERS), 'answer')}`}
          </button>
        )}
      </Toolbar>
      <table className="grid">
        <thead>
          <tr>
            {many && <th className="soft">record</th>}
            {fields.map((f) => (
              <th key={f.name} className={`mono ${css.head}`}>
                {f.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {records.slice(0, all ? MOST : SHOWN).map((r, i) => (
            <tr key={i}>
              {many && <td className="num soft">{many[i].number}</td>}
              {fields.map((f) => (
                <td key={f.name} className={`num cut ${css.value}`} title={textOf(r, f.name)}>
                  {textOf(r, f.name) ?? <span className="faint">–</span>}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {records.length > SHOWN && !all && (
        <button className={`link soft ${css.more}`} onClick={() => setAll(true)}>
          show all {records.length}
        </button>
      )}
      {isEmpty && <div className={`soft ${css.hint}`}>Tick fields in the answer, or take all.</div>}
    </Scroll>
  );
}

function Outcome({ view }: { view: PickedKind }) {
  const p = view.problems.at(0);
  if (!p) return <Status mood="ok">{plural(view.records.length, 'record')}</Status>;
  return (
    <Status mood="bad">
      {rowNameOf(p)}: {p.text}
    </Status>
  );
}
