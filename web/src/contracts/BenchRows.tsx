import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';
import type { Problem, ShapeRow } from '../api/types';
import { ErrorText } from '../common/ui';
import { BenchRow } from './BenchRow';
import { lines, visible, type BenchState } from './benchRules';
import type { ShapeWish } from './shape';
import css from './BenchRows.module.css';
import { indent, shifted, tall } from '../common/place';

/** The request as rows, required ones first, optional ones folded; only those on screen are drawn. */
export function BenchRows({
  rows,
  error,
  state,
  setState,
  wish,
  problems,
  tried,
  given,
}: {
  rows: ShapeRow[];
  error: unknown;
  state: BenchState;
  setState: (s: BenchState) => void;
  wish: ShapeWish;
  problems: Map<string, Problem>;
  tried: boolean;
  /** Paths of rows that the connection fills. */
  given: string[];
}) {
  const items = useMemo(() => lines(visible(rows, state)), [rows, state]);
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 29,
    overscan: 30,
    getItemKey: (i) => items[i].key,
  });
  return (
    <div className="scroll" ref={scroller}>
      <div className={`benchrow soft small ${css.area}`}>
        <span className={css.inset}>element</span>
        <span>type</span>
        <span>value</span>
      </div>
      {error ? <ErrorText error={error} /> : null}
      <div className="sparse" style={tall(list.getTotalSize())}>
        {list.getVirtualItems().map((v) => {
          const item = items[v.index];
          return (
            <div
              key={v.key}
              data-index={v.index}
              ref={list.measureElement}
              className="sparse-row"
              style={shifted(v.start)}
            >
              {item.folded ? (
                <Folded
                  row={item.row}
                  folded={item.folded}
                  open={() => setState({ ...state, shown: [...state.shown, item.row.path] })}
                />
              ) : (
                <BenchRow
                  row={item.row}
                  state={state}
                  setState={setState}
                  rows={rows}
                  wish={wish}
                  problem={problems.get(item.row.path)}
                  tried={tried}
                  isGiven={given.includes(item.row.path)}
                />
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** Optional rows, folded after the required ones of the same parent. */
function Folded({ row, folded, open }: { row: ShapeRow; folded: ShapeRow[]; open: () => void }) {
  return (
    <div className="benchrow">
      <button className="link soft mono bare left" style={indent(row.depth + 1, 18)} onClick={open}>
        ▸ {folded.length} optional
      </button>
      <span className={`faint small cut ${css.text}`}>
        {folded.map((f) => (f.name === 'choice' ? 'one of several' : f.name)).join(', ')}
      </span>
    </div>
  );
}
