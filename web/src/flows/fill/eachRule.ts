/** What a repeating row repeats over, taken apart: of what, only where, in which order. */
export interface Repeat {
  over: string;
  /** A condition over each item; empty for all. */
  where: string;
  /** An expression over each item by which they are ordered; empty for as they come. */
  order: string;
  descending: boolean;
}

const SORT = 'sort(';
const KEY = ', (), function($item) { $item/(';
const KEY_END = ') })';
const REVERSE = 'reverse(';

/** As one expression: `sort(line[weight > 3], (), function($item) { $item/(no) })`. */
export function repeated({ over, where, order, descending }: Repeat): string {
  const base = over.trim();
  const some = where.trim() ? `${isPath(base) ? base : `(${base})`}[${where.trim()}]` : base;
  if (!order.trim()) return some;
  const sorted = `${SORT}${some}${KEY}${order.trim()}${KEY_END}`;
  return descending ? `${REVERSE}${sorted})` : sorted;
}

/** What was put together so; of any other expression all is what it repeats over. */
export function takenApart(each: string): Repeat {
  const text = each.trim();
  const descending = text.startsWith(REVERSE + SORT) && text.endsWith(`${KEY_END})`);
  const sorted = descending ? text.slice(REVERSE.length, -1) : text;
  const key = sorted.startsWith(SORT) && sorted.endsWith(KEY_END) ? sorted.indexOf(KEY) : -1;
  const order = key < 0 ? '' : sorted.slice(key + KEY.length, -KEY_END.length);
  const some = key < 0 ? text : sorted.slice(SORT.length, key);
  const open = conditionAt(some);
  const over = open < 0 ? some : some.slice(0, open);
  const repeat = {
    over: /^\(.*\)$/s.test(over) && !isPath(over) && open >= 0 ? over.slice(1, -1) : over,
    where: open < 0 ? '' : some.slice(open + 1, -1),
    order,
    descending: key >= 0 && descending,
  };
  // What would not come out as it went in was written by hand.
  return repeated(repeat) === text ? repeat : { over: text, where: '', order: '', descending: false };
}

/** Whether brackets can stand right behind it. */
const isPath = (x: string) => /^[$\p{L}\p{N}_./@:*-]+$/u.test(x);

/** Where the bracket begins that ends the expression, unless it is only a position; -1 when there is none. */
function conditionAt(x: string): number {
  if (!x.endsWith(']')) return -1;
  let depth = 0;
  let quote = '';
  let open = -1;
  for (let i = 0; i < x.length; i++) {
    const c = x[i];
    if (quote) {
      if (c === quote) quote = '';
    } else if (c === "'" || c === '"') quote = c;
    else if (c === '[') {
      if (depth === 0) open = i;
      depth++;
    } else if (c === ']') depth--;
  }
  return depth === 0 && open > 0 && !/^\d+$/.test(x.slice(open + 1, -1)) ? open : -1;
}
