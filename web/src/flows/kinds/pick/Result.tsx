import { rowNameOf } from '../../../common/problems';
import { useState } from 'react';
import type { PickedKind, Tree } from '../../../api/types';
import { plural } from '../../../common/format';
import { Scroll, Toolbar } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import css from './Result.module.css';

const SHOWN = 30;
const MOST = 500;

const textOf = (record: Tree, field: string) => record.children?.find((c) => c.name === field)?.text;

/** The records that the pick makes of the kept answer. */
export function Result({ view, title, isEmpty }: { view?: PickedKind; title: string; isEmpty: boolean }) {
  const [all, setAll] = useState(false);
  const records = view?.records ?? [];
  const fields = view?.fields ?? [];
  return (
    <Scroll label={title} className={css.result}>
      <Toolbar>
        <h2>{title}</h2>
        {view && <Outcome view={view} />}
      </Toolbar>
      <table className="grid">
        <thead>
          <tr>
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
