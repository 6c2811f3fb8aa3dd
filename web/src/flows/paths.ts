import type { Column, Tree } from '../api/types';

/** A path without positions. */
export const plain = (path: string) => path.replace(/\[\d+\]/g, '');

/** Paths of elements with children, those that repeat marked. */
export function elements(t: Tree, path = ''): { path: string; repeats: boolean }[] {
  const out: { path: string; repeats: boolean }[] = [];
  const groups = new Map<string, Tree[]>();
  (t.children ?? []).forEach((c) => { if (!c.name.startsWith('@')) groups.set(c.name, [...(groups.get(c.name) ?? []), c]); });
  groups.forEach((nodes, n) => {
    const p = path ? `${path}/${n}` : n;
    if (nodes.some((x) => x.children) || nodes.length > 1) { out.push({ path: p, repeats: nodes.length > 1 }); out.push(...elements(nodes[0], p)); }
  });
  return out;
}

/** The way from one element to another, both from the answer's root. */
export function relative(from: string, to: string): string {
  const a = from ? from.split('/') : [];
  const b = to.split('/');
  let same = 0;
  while (same < a.length && same < b.length && a[same] === b[same]) same++;
  return [...a.slice(same).map(() => '..'), ...b.slice(same)].join('/') || '.';
}

/** The type that a value looks to be of. */
export function guess(text?: string): string {
  if (text === undefined) return 'string';
  if (/^\d{4}-\d\d-\d\dT/.test(text)) return 'dateTime';
  if (/^\d{4}-\d\d-\d\d$/.test(text)) return 'date';
  if (/^[+-]?(0|[1-9]\d{0,17})$/.test(text)) return 'integer';
  if (/^[+-]?(0|[1-9]\d*)\.\d+$/.test(text)) return 'decimal';
  return text === 'true' || text === 'false' ? 'boolean' : 'string';
}

/** All values of an answer, each path once. */
export function leaves(t: Tree, path = ''): { path: string; text?: string }[] {
  const seen = new Set<string>();
  return (t.children ?? []).flatMap((c) => {
    const p = path ? `${path}/${c.name}` : c.name;
    if (seen.has(p)) return [];
    seen.add(p);
    return c.children ? leaves(c, p) : [{ path: p, text: c.text }];
  });
}

/** A column's name for a path: its last name in snake case, made unique. */
export const columnName = (path: string, taken: Column[]) => {
  const base = path.replace(/^.*\//, '').replace('@', '').replace(/([a-z0-9])([A-Z])/g, '$1_$2').toLowerCase();
  let n = base;
  for (let i = 2; taken.some((c) => c.name === n); i++) n = `${base}_${i}`;
  return n;
};

/** An XPath of names and .. from an element, as a path from the root. */
export function resolve(from: string, x: string): string | null {
  if (!/^(\.\.|@?[\p{L}_][\p{L}\p{N}_.-]*)(\/(\.\.|@?[\p{L}_][\p{L}\p{N}_.-]*))*$/u.test(x)) return null;
  const at = from ? from.split('/') : [];
  x.split('/').forEach((s) => (s === '..' ? at.pop() : at.push(s)));
  return at.join('/');
}
