import type { Rule, Tree } from '../../api/types';
import { takenApart } from './eachRule';

const PREDICATE = /\[[^[\]]*\]/g;
const PATH = /^[$\p{L}_.][\p{L}\p{N}_.$@/-]*$/u;

/** What the row, or the nearest one around it, is there for each of; undefined outside of repeats. */
export function eachAround(path: string, rules: Map<string, Rule>): string[] {
  const out: string[] = [];
  for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) {
    const each = rules.get(path.slice(0, at))?.each;
    if (each) out.unshift(each);
  }
  return out;
}

/** All nodes at a path of names; nothing where an expression is more than that. */
function at(from: Tree[], top: Tree, each: string): Tree[] {
  const plain = takenApart(each).over.replace(PREDICATE, '').trim().replace(/^\.\//, '');
  if (!PATH.test(plain)) return [];
  const [first, ...rest] = plain.split('/');
  const inside = (nodes: Tree[], name: string) =>
    nodes.flatMap((n) => n.children?.filter((c) => c.name === name) ?? []);
  const start = first === '$record' ? [top] : inside(first.startsWith('$') ? [top] : from, first);
  return rest.reduce(inside, start);
}

/**
 * What can be typed inside of repeats, as a tree to complete from: the fields of an item, which bare names mean there,
 * then the record's own behind `$record`, and the other names.
 *
 * @param each of the repeats around, the outermost first
 */
export function itemNames(names: Tree | undefined, each: string[]): Tree | undefined {
  if (!names || each.length === 0) return names;
  let items = [names];
  for (const e of each) items = at(items, names, e);
  const fields = new Map<string, Tree>();
  for (const c of items.flatMap((i) => i.children ?? [])) {
    const known = fields.get(c.name);
    if (!known || (!known.text && !known.children)) fields.set(c.name, c);
  }
  const others = names.children?.filter((c) => c.name.startsWith('$')) ?? [];
  const own = names.children?.filter((c) => !c.name.startsWith('$')) ?? [];
  return {
    ...names,
    children: [
      ...fields.values(),
      ...(others.some((o) => o.name === '$record') ? [] : [{ name: '$record', children: own }]),
      ...others,
    ],
  };
}
