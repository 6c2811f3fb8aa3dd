import { useState, type KeyboardEvent, type RefObject } from 'react';
import type { ShapeRow } from '../../api/types';

const TYPING = 'input, textarea, [contenteditable]';
const PAGE_ROWS = 15;

export interface RowDeeds {
  edit: (r: ShapeRow) => void;
  /** Takes what is suggested for a row. */
  take: (r: ShapeRow) => void;
  takeAll: () => void;
  another: (r: ShapeRow) => void;
  clear: (r: ShapeRow) => void;
  fold: (r: ShapeRow, away: boolean) => void;
  find: () => void;
}

/**
 * The keys of the fill while no value is being typed: the arrows move, Enter edits, t takes the suggestion (Shift Enter
 * all), + gives a repeating row once more, Delete clears, left and right fold and unfold, f finds. The designer's
 * own keys mean the same here.
 */
export function useFillKeys(
  rows: ShapeRow[],
  grid: RefObject<HTMLElement | null>,
  scrollTo: (index: number) => void,
  deeds: RowDeeds,
) {
  const [cursor, setCursor] = useState<string>();
  const index = rows.findIndex((r) => r.path === cursor);
  const go = (to: number) => {
    const next = rows.at(Math.max(0, Math.min(rows.length - 1, to)));
    if (!next) return;
    setCursor(next.path);
    scrollTo(rows.indexOf(next));
  };
  const onKeyDown = (e: KeyboardEvent) => {
    if ((e.target as HTMLElement).closest(TYPING) || e.ctrlKey || e.metaKey || e.altKey) return;
    const deed = moving(e.key, index, rows.length, go) ?? doing(e, rows.at(index), index >= 0, deeds);
    if (!deed) return;
    e.preventDefault();
    e.stopPropagation();
    deed();
  };
  /** Goes on by keys at a row whose value was typed, unless something else was gone to. */
  const resume = (path: string) => {
    setCursor(path);
    requestAnimationFrame(() => {
      if (document.activeElement === document.body) grid.current?.focus();
    });
  };
  return { cursor, resume, onKeyDown };
}

function moving(key: string, at: number, count: number, go: (to: number) => void) {
  const to: Record<string, number> = {
    ArrowDown: at + 1,
    ArrowUp: at - 1,
    PageDown: at + PAGE_ROWS,
    PageUp: at - PAGE_ROWS,
    Home: 0,
    End: count - 1,
  };
  return key in to ? () => go(to[key]) : undefined;
}

function doing(e: KeyboardEvent, row: ShapeRow | undefined, isThere: boolean, deeds: RowDeeds) {
  if (e.key === 'f') return deeds.find;
  if (e.key === 'Enter' && e.shiftKey) return deeds.takeAll;
  // A button that is come to by Tab is pressed by Enter as everywhere.
  const isOnButton = !!(e.target as HTMLElement).closest('button, a, [role=combobox]');
  if (!row || !isThere || isOnButton) return undefined;
  const of: Record<string, () => void> = {
    Enter: () => deeds.edit(row),
    t: () => deeds.take(row),
    '+': () => deeds.another(row),
    Delete: () => deeds.clear(row),
    ArrowLeft: () => deeds.fold(row, true),
    ArrowRight: () => deeds.fold(row, false),
  };
  return of[e.key];
}
