import type { Rule, ShapeRow } from '../../api/types';
import { givenPaths, last } from './rows';

/** Which rows are looked at. */
export type Show = 'all' | 'filled' | 'open' | 'problems';

export interface Wish {
  show: Show;
  find: string;
  /** Paths of rows whose inside is folded away. */
  folded: ReadonlySet<string>;
}

export interface Known {
  rules: Rule[];
  /** Rows of branches that are not taken. */
  hidden: ReadonlySet<string>;
  unfilled: ReadonlySet<string>;
  /** Rows with a problem. */
  wrong: ReadonlySet<string>;
}

const parentOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));

/** Rows and all that they are inside of. */
function withParents(paths: Iterable<string>): Set<string> {
  const out = new Set<string>();
  for (const path of paths) {
    for (let at = path; at && !out.has(at); at = parentOf(at)) out.add(at);
  }
  return out;
}

const found = (r: ShapeRow, words: string) =>
  last(r.path).toLowerCase().includes(words) || !!r.documentation?.toLowerCase().includes(words);

/** The rows that are wanted, each with what it is inside of. What is looked for is shown although it is folded. */
export function shown(rows: ShapeRow[], wish: Wish, known: Known): ShapeRow[] {
  const words = wish.find.trim().toLowerCase();
  const candidates = rows.filter((r) => !known.hidden.has(r.path));
  const kept = keptOf(candidates, wish.show, known);
  const hits = words ? withParents(candidates.filter((r) => found(r, words)).map((r) => r.path)) : undefined;
  const folded = words ? undefined : wish.folded;
  const out: ShapeRow[] = [];
  let inside: string | undefined;
  for (const r of candidates) {
    if (inside !== undefined && r.path.startsWith(inside)) continue;
    inside = folded?.has(r.path) ? `${r.path}/` : undefined;
    if (kept(r) && (!hits || hits.has(r.path))) out.push(r);
  }
  return out;
}

function keptOf(rows: ShapeRow[], show: Show, known: Known): (r: ShapeRow) => boolean {
  switch (show) {
    case 'all':
      return () => true;
    case 'filled': {
      const given = givenPaths(known.rules);
      return (r) => r.required || given.has(r.path);
    }
    default: {
      const wanted = withParents(
        rows.filter((r) => (show === 'open' ? known.unfilled.has(r.path) : known.wrong.has(r.path))).map((r) => r.path),
      );
      return (r) => wanted.has(r.path);
    }
  }
}

/** The paths of rows that have others inside. */
export function withInside(rows: ShapeRow[]): Set<string> {
  return new Set(rows.filter((r, i) => rows.at(i + 1)?.path.startsWith(`${r.path}/`)).map((r) => r.path));
}

/** The rules without the value of a row: what it is the kind or branch of stays. */
export function cleared(path: string, rules: Rule[]): Rule[] {
  return rules.flatMap((r) => {
    if (r.path !== path) return [r];
    const { kind, kinds, branch } = r;
    const isKept = !!kind || !!kinds?.length || !!branch || /\[\d+\]$/.test(path);
    return isKept ? [{ path, kind, kinds, branch }] : [];
  });
}
