import { rowNameOf } from '../../../common/problems';
import { useState } from 'react';
import type { PickView } from '../../../api/types';
import { plural } from '../../../common/format';
import { Scroll, Toolbar } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import css from './Result.module.css';

const SHOWN = 30;
const MOST = 500;

/** The records that the pick makes of the kept answer. */
export function Result({ view, isEmpty }: { view?: PickView; isEmpty: boolean }) {
  const [all, setAll] = useState(false);
  const records = view?.records ?? [];
  const fields = view?.fields ?? [];
  return (
    <Scroll label="result" className={css.result}>
      <Toolbar>
        <h2>Result for this answer</h2>
        {view?.reply && <Outcome view={view} />}
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
                <td key={f.name} className="num nowrap">
                  {r.children?.find((c) => c.name === f.name)?.text ?? <span className="faint">–</span>}
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

function Outcome({ view }: { view: PickView }) {
  const p = view.problems.at(0);
  if (!p) return <Status mood="ok">{plural(view.records.length, 'record')}</Status>;
  return (
    <Status mood="bad">
      {rowNameOf(p)}: {p.text}
    </Status>
  );
}
