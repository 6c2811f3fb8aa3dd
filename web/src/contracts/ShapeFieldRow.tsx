import type { ShapeRow } from '../api/types';
import { indent } from '../common/place';
import { KindSelect } from './KindSelect';
import { name, type ShapeWish } from './shape';
import css from './MessageShapes.module.css';

interface Props {
  row: ShapeRow;
  wish: ShapeWish;
  marked: boolean;
  open: () => void;
  take: (kind: string) => void;
  onLine: (line: number, document: string) => void;
}

/** One field of a message: its name, type, how often it occurs, what it may hold and what is said of it. */
export function ShapeFieldRow({ row: r, wish, marked, open, take, onLine }: Props) {
  const said = [r.documentation, r.constraints?.join('; '), r.appinfo && `for programs: ${r.appinfo}`]
    .filter(Boolean)
    .join(' · ');
  return (
    <div role="row" className={`shaperow ${css.columns} ${marked ? 'at' : ''}`}>
      <span role="cell" className="mono" style={indent(r.depth, 18)} title={r.path}>
        {name(r)}
        {r.closed && (
          <button className={`link faint ${css.action}`} onClick={open}>
            open
          </button>
        )}
      </span>
      <span role="cell" className="soft">
        {r.kinds ? <KindSelect row={r} wish={wish} taken={r.taken} take={take} /> : r.type}
      </span>
      <span role="cell" className="num">
        {r.occurs}
        {r.nillable && (
          <span className="faint" title="may be nil">
            {' '}
            nil
          </span>
        )}
      </span>
      <span role="cell" className="small" title={r.values?.join(', ') ?? r.limits}>
        {r.fixed != null ? `always ${r.fixed}` : r.limits}
        {r.defaultValue != null ? ` (default ${r.defaultValue})` : ''}
      </span>
      <span role="cell" className="soft" title={said}>
        {said}
      </span>
      <span role="cell" className="num">
        {r.line != null && (
          <button
            className="link faint"
            title={`${r.document}, line ${r.line}`}
            onClick={() => onLine(r.line ?? 0, r.document ?? '')}
          >
            {r.line}
          </button>
        )}
      </span>
    </div>
  );
}
