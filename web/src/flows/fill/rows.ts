import type { Rule, ShapeRow } from '../../api/types';

/** The last segment of a path. */
export const last = (path: string) => path.slice(path.lastIndexOf('/') + 1);

/** Rows in branches of a choice that were not taken. */
export function hiddenBranches(rows: ShapeRow[], rules: Map<string, Rule>): Set<string> {
  const out = new Set<string>();
  const choices = new Map(rows.filter((r) => r.kind === 'choice').map((r) => [r.path, rules.get(r.path)?.branch]));
  for (const r of rows) {
    const parent = r.path.slice(0, Math.max(0, r.path.lastIndexOf('/')));
    const taken = choices.get(parent);
    if (out.has(parent) || (taken !== undefined && taken !== last(r.path))) out.add(r.path);
  }
  return out;
}

/** The path of the next occurrence of a row that is given one by one: `item`, `item[2]`, `item[3]`. */
export function nextOccurrence(path: string, rules: Rule[]): string {
  const base = path.replace(/\[\d+\]$/, '');
  const numbers = rules
    .filter((r) => r.path.startsWith(`${base}[`))
    .map((r) => Number(/^\[(\d+)\]/.exec(r.path.slice(base.length))?.[1] ?? 0));
  return `${base}[${Math.max(1, ...numbers) + 1}]`;
}

/** The rules without what is at, or inside, a row; later occurrences of it move up. */
export function without(path: string, rules: Rule[]): Rule[] {
  const at = /^(.*)\[(\d+)\]$/.exec(path);
  const kept = rules.filter((r) => r.path !== path && !r.path.startsWith(`${path}/`));
  if (!at) return kept;
  const [, base, number] = at;
  return kept.map((r) => {
    const n = r.path.startsWith(`${base}[`) ? /^\[(\d+)\](.*)$/s.exec(r.path.slice(base.length)) : null;
    return n && Number(n[1]) > Number(number) ? { ...r, path: `${base}[${Number(n[1]) - 1}]${n[2]}` } : r;
  });
}

/** How many of the rows that need a value have one, in words. */
export function filledWords(rows: ShapeRow[], unfilled: string[], rules: Rule[]): string {
  const needed = rows.filter((r) => r.hasText && r.required);
  const lacks = new Set(unfilled);
  const open = needed.filter((r) => lacks.has(r.path)).length;
  if (needed.length === 0) return rules.length ? `${rules.length} filled` : 'nothing required';
  return `${needed.length - open} / ${needed.length} required`;
}

/** Which rows lack a value, in words: the first three by name. */
export function lacking(paths: string[]): string {
  const names = paths.slice(0, 3).map(last).join(', ');
  return `${names}${paths.length > 3 ? ` and ${paths.length - 3} more` : ''} ${paths.length === 1 ? 'is' : 'are'}`;
}

/** Whether a repeating row, or what is above it, is given at all: of an empty repeat nothing is complete. */
export const isGiven = (row: ShapeRow, rules: Rule[]) =>
  rules.some((r) => r.path === row.path || r.path.startsWith(`${row.path}/`) || r.path.startsWith(`${row.path}[`));

/** The paths of all rules, and of all rows that those are inside of. */
export function givenPaths(rules: Rule[]): Set<string> {
  const out = new Set<string>();
  for (const { path } of rules) {
    for (let at = path; at && !out.has(at); at = at.slice(0, Math.max(0, at.lastIndexOf('/')))) out.add(at);
  }
  return out;
}
