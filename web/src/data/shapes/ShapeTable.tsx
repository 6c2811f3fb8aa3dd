import type { ShapeRow } from '../../api/types';
import { indent } from '../../common/place';
import { name } from '../../contracts';
import css from './Shapes.module.css';

const MOST_NAMED = 3;

const kindWords = ({ kinds = [], moreKinds }: ShapeRow) =>
  !moreKinds && kinds.length <= MOST_NAMED
    ? kinds.map((k) => k.name).join(' or ')
    : `one of ${moreKinds ?? kinds.length} kinds`;

/** The fields of a document, as its schema is understood. */
export const ShapeTable = ({ rows, open }: { rows: ShapeRow[]; open: (path: string) => void }) => (
  <table className="grid" aria-label="fields">
    <thead>
      <tr>
        {['field', 'type', 'occurs', 'limits'].map((c) => (
          <th key={c}>{c}</th>
        ))}
      </tr>
    </thead>
    <tbody>
      {rows.map((r) => (
        <tr key={r.path}>
          <td className="mono" style={indent(r.depth, 16)} title={r.documentation ?? r.path}>
            {name(r)}{' '}
            {r.closed && (
              <button className="link faint" onClick={() => open(r.path)}>
                open
              </button>
            )}
          </td>
          <td className="soft">{r.kinds ? kindWords(r) : r.type}</td>
          <td className="num">
            {r.occurs}
            {r.nillable && <span className="faint"> nil</span>}
          </td>
          <td className={`small ${css.limits}`}>{r.fixed != null ? `always ${r.fixed}` : r.limits}</td>
        </tr>
      ))}
    </tbody>
  </table>
);
