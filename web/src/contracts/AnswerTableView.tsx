import { Select } from 'antd';
import { useMemo, useState } from 'react';
import type { Tree } from '../api/types';
import { plural } from '../common/format';
import { rowPlaces, tableOf } from './answerTable';
import css from './AnswerTableView.module.css';

const MAX_ROWS = 500;

/** The answer as a table: choose what one row is. */
export function AnswerTableView({ root, onPick }: { root: Tree; onPick: (path: string) => void }) {
  const places = useMemo(() => rowPlaces(root), [root]);
  const [chosen, setChosen] = useState<string>();
  const path = chosen !== undefined && places.some((p) => p.path === chosen) ? chosen : places[0].path;
  const table = useMemo(() => tableOf(root, path), [root, path]);
  return (
    <>
      <div className={`row small ${css.bar}`}>
        <span className="soft">one row is</span>
        <Select
          size="small"
          aria-label="one row is"
          className={css.oneRowIs}
          popupMatchSelectWidth={false}
          value={path}
          onChange={(p) => {
            setChosen(p);
            onPick(p);
          }}
          options={places.map((p) => ({
            value: p.path,
            label: p.path === '' ? 'the whole answer' : `${p.path} (${p.count})`,
          }))}
        />
        <span className="soft num">{plural(table.rows.length, 'row')}</span>
      </div>
      <div className={css.box}>
        <table className="grid">
          <thead>
            <tr>
              <th className={`n ${css.cell}`}>#</th>
              {table.columns.map((c) => (
                <th key={c} className="mono nowrap">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.slice(0, MAX_ROWS).map((r, i) => (
              <tr key={i}>
                <td className="n faint">{i + 1}</td>
                {table.columns.map((c, j) => (
                  <td key={c} className={css.cell2}>
                    <div className="cut" title={r[j]}>
                      {r[j] ?? <span className="faint">–</span>}
                    </div>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {table.rows.length > MAX_ROWS && <div className="soft small">The first {MAX_ROWS} are shown.</div>}
    </>
  );
}
