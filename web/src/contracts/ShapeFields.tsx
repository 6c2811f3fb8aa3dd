import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { shifted, tall } from '../common/place';
import { ErrorText } from '../common/ui';
import { useShape, type ShapeWish } from './shape';
import { ShapeFieldRow } from './ShapeFieldRow';
import css from './MessageShapes.module.css';

/** The fields of a message as a tree-table. */
export function ShapeFields({
  wish,
  at,
  onLine,
}: {
  wish: Omit<ShapeWish, 'kinds' | 'opened'>;
  at: string | null;
  onLine: (line: number, document: string) => void;
}) {
  // A field that only a kind has is shown with that kind taken.
  const [search] = useSearchParams();
  const [kinds, setKinds] = useState<Record<string, string>>(() =>
    Object.fromEntries(search.getAll('kind').map((k) => [k.slice(0, k.indexOf('=')), k.slice(k.indexOf('=') + 1)])),
  );
  const [opened, setOpened] = useState<string[]>(() =>
    at ? at.split('/').map((_, i, all) => all.slice(0, i + 1).join('/')) : [],
  );
  const shape = useShape({ ...wish, kinds, opened });
  const rows = shape.data ?? [];
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 28,
    overscan: 20,
  });
  const place = at ? rows.findIndex((r) => r.path === at) : -1;
  useEffect(() => {
    if (place >= 0) list.scrollToIndex(place, { align: 'center' });
  }, [place]); // eslint-disable-line
  if (shape.isError)
    return (
      <div className={css.inset}>
        <ErrorText error={shape.error} />
      </div>
    );
  return (
    <div ref={scroller} className="scroll" role="table" aria-label="fields">
      <div className={`shaperow head ${css.columns}`} role="row">
        {['element', 'type', 'occurs', 'limits', 'documentation', 'line'].map((c) => (
          <span key={c} role="columnheader">
            {c}
          </span>
        ))}
      </div>
      {shape.data?.length === 0 && <div className={`soft ${css.bar}`}>This message is empty.</div>}
      <div className="sparse" style={tall(list.getTotalSize())}>
        {list.getVirtualItems().map((v) => {
          const r = rows[v.index];
          return (
            <div key={r.path} className="sparse-row" style={shifted(v.start)} role="presentation">
              <ShapeFieldRow
                row={r}
                wish={{ ...wish, kinds, opened }}
                marked={v.index === place}
                open={() => setOpened([...opened, r.path])}
                take={(k) => setKinds({ ...kinds, [r.path]: k })}
                onLine={onLine}
              />
            </div>
          );
        })}
      </div>
    </div>
  );
}
