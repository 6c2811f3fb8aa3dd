import type { Api } from '../api/types';
import type { Mood } from '../common/ui';

const MOODS: Record<string, Mood> = { done: 'ok', gathered: 'idle', 'in doubt': 'warn' };

/** How a fate is shown beside its word. */
export const moodOf = (fate: string): Mood => MOODS[fate] ?? 'bad';

export type TrailEvent = Api<'TrailEvent'>;

/** A part of a record on its way, with what happened in it. */
export interface TrailPart {
  /** Such as `s4[12]`, after those of the parts around it. */
  prefix: string;
  each: string;
  number: number;
  items: TrailItem[];
}
export type TrailItem = { event: TrailEvent } | { part: TrailPart };

const PART = /^([^[/]+)\[(\d+)\]\//;

/** What happened as a tree: what belongs to a part of a split stands inside that part. */
export function treeOf(events: TrailEvent[], prefix = ''): TrailItem[] {
  const out: TrailItem[] = [];
  let open: { part: TrailPart; events: TrailEvent[] } | undefined;
  const close = () => {
    if (open) open.part.items = treeOf(open.events, open.part.prefix);
    open = undefined;
  };
  for (const event of events) {
    const m = PART.exec(event.path.slice(prefix.length));
    if (!m) {
      close();
      out.push({ event });
      continue;
    }
    const at = prefix + m[0];
    if (open?.part.prefix !== at) {
      close();
      open = { part: { prefix: at, each: m[1], number: Number(m[2]), items: [] }, events: [] };
      out.push({ part: open.part });
    }
    open.events.push(event);
  }
  close();
  return out;
}

/** How many calls a part made, and how long they took. */
export function sums(part: TrailPart): { calls: number; micros: number } {
  return part.items.reduce(
    (sum, i) => {
      const own = 'part' in i ? sums(i.part) : { calls: i.event.request ? 1 : 0, micros: i.event.micros };
      return { calls: sum.calls + own.calls, micros: sum.micros + own.micros };
    },
    { calls: 0, micros: 0 },
  );
}
