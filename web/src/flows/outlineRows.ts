import type { Flow, Step } from '../api/types';
import { armsOf, closingOf } from './tree';

/** A row of an outline: a step, or an arm of a block. */
export interface OutlineRow {
  /** What is counted: the step's id, or `id/arm`. */
  key: string;
  step: string;
  arm?: string;
  /** Of the step, from 1; of an arm that of its block. */
  number: number;
  kind: string;
  title: string;
  depth: number;
  off: boolean;
}

/** The flow from top to bottom; an arm without a title is no row of its own. */
export function outlineRows(flow: Flow, title: (s: Step) => string): OutlineRow[] {
  const out: OutlineRow[] = [];
  let number = 0;
  const add = (steps: Step[], depth: number, isOff: boolean) => {
    for (const s of steps) {
      number++;
      const row = { step: s.id, number, kind: s.kind, off: isOff || !!s.off };
      out.push({ ...row, key: s.id, title: title(s), depth });
      for (const a of armsOf(s)) {
        out.push({ ...row, key: `${s.id}/${a.name}`, arm: a.name, title: a.title, depth: depth + 1 });
        add(a.steps, depth + 1, row.off);
      }
      const closing = closingOf(s);
      if (closing)
        out.push({ ...row, key: `${s.id}/${closing.name}`, arm: closing.name, title: closing.title, depth: depth + 1 });
    }
  };
  add(flow.steps, 0, false);
  return out;
}

/** Rows without those that have nothing to say. */
export const seen = <R extends { title: string; arm?: string }>(rows: R[]) => rows.filter((r) => !r.arm || r.title);

/** A lane that runs past a row: dotted where the record waits for its parts. */
interface Past {
  lane: number;
  dotted: boolean;
  count: number | null;
}

/** How the wire runs through a row: lanes are counted from the left. */
export interface WireRow {
  /** The lane of the row. */
  at: number;
  /** The lane that the row before it was in. */
  from: number;
  /** The lane where an arm leaves its block's; null when the row is no such arm. */
  leaves: number | null;
  past: Past[];
  /** What runs beside the block that ended above, into this row. */
  beside: Past | null;
  /** Lanes between that end here, too, since several blocks ended above. */
  ended: Past[];
  isFirst: boolean;
  isLast: boolean;
}

/**
 * @param rows those that are seen
 * @param count of a row; null when it is not known
 */
export function wire(
  rows: Pick<OutlineRow, 'key' | 'arm' | 'depth' | 'kind'>[],
  count: (key: string) => number | null,
): WireRow[] {
  const around: { kind: string; key: string; arm?: string }[] = [];
  const past = (lane: number): Past => {
    const b = around[lane];
    return { lane, dotted: b?.kind === 'each', count: b ? outside(b, count) : null };
  };
  return rows.map((r, i) => {
    const from = i === 0 ? r.depth : rows[i - 1].depth;
    const leaves = r.arm && r.arm !== 'collect' ? r.depth - 1 : null;
    const lane = leaves ?? r.depth;
    const beside = leaves === null && from > r.depth ? past(r.depth) : null;
    const between = Array.from({ length: Math.max(0, from - lane - 1) }, (_, n) => past(lane + 1 + n));
    const ended = between.filter((p) => !p.dotted);
    if (r.arm && around[r.depth - 1]) around[r.depth - 1].arm = r.key;
    const lanes = Array.from({ length: r.depth }, (_, lane) => past(lane));
    if (!r.arm) around[r.depth] = { kind: r.kind, key: r.key };
    around.length = r.depth + (r.arm ? 0 : 1);
    return { at: r.depth, from, leaves, past: lanes, beside, ended, isFirst: i === 0, isLast: i === rows.length - 1 };
  });
}

/** Records that are in the block, but not in the arm at hand. */
function outside(b: { key: string; arm?: string }, count: (key: string) => number | null): number | null {
  const all = count(b.key);
  const inside = b.arm ? count(b.arm) : null;
  return all === null || inside === null ? null : Math.max(0, all - inside);
}
