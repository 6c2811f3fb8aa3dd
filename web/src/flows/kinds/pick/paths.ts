import type { Column, Tree } from '../../../api/types';
import { DOCUMENT, embedded } from '../../../common/embedded';

/** A path without positions. */
export const plain = (path: string) => path.replace(/\[\d+\]/g, '');

/**
 * The answer with the XML documents in its strings opened: inside such a string, below a node of its own, is the
 * document's root.
 */
export function expand(t: Tree): Tree {
  if (t.children) return { ...t, children: t.children.map(expand) };
  const inside = embedded(t.text);
  return inside?.kind === 'XML' ? { ...t, children: [{ name: DOCUMENT, children: [expand(inside.root)] }] } : t;
}

const isString = (t: Tree) => t.children?.length === 1 && t.children[0].name === DOCUMENT;

/** The XPath of a place in the answer; a document in a string has to be parsed first. */
export function toXPath(path: string, root = '$reply/'): string {
  const [first, ...documents] = path.split(`/${DOCUMENT}/`);
  return documents.reduce((x, inside) => `parse-xml(${x})/${inside}`, `${root}${first}`);
}

/** The place an XPath of that form means, or null for any other. */
export function fromXPath(x: string): string | null {
  const parsed = /^parse-xml\((.*)\)\/([^()[\]/?][^()[\]?]*)$/.exec(x);
  if (parsed && !parsed[2].includes('//')) {
    const outer = fromXPath(parsed[1]);
    return outer === null ? null : `${outer}/${DOCUMENT}/${parsed[2]}`;
  }
  return x.startsWith('$reply/') && !/[()[\]?]/.test(x) && !x.includes('//') ? x.slice(7) : null;
}

/**
 * The XPath of a place as seen from where one record is; what is outside the record's own document is reached from the
 * answer.
 */
export function xpathFrom(each: string, path: string): string {
  const cut = each.lastIndexOf(`${DOCUMENT}/`);
  const own = cut < 0 ? '' : each.slice(0, cut + DOCUMENT.length + 1);
  if (!path.startsWith(own)) return toXPath(path);
  const [first, ...documents] = path.slice(own.length).split(`/${DOCUMENT}/`);
  return documents.reduce((x, inside) => `parse-xml(${x})/${inside}`, relative(each.slice(own.length), first));
}

/** Paths of elements with children, those that repeat marked. */
export function elements(t: Tree, path = ''): { path: string; repeats: boolean }[] {
  const out: { path: string; repeats: boolean }[] = [];
  const groups = new Map<string, Tree[]>();
  (t.children ?? []).forEach((c) => {
    if (!c.name.startsWith('@')) groups.set(c.name, [...(groups.get(c.name) ?? []), c]);
  });
  groups.forEach((nodes, n) => {
    const p = path ? `${path}/${n}` : n;
    if (nodes.some((x) => x.children) || nodes.length > 1) {
      const plainElement = n !== DOCUMENT && !isString(nodes[0]);
      if (plainElement || (nodes.length > 1 && n !== DOCUMENT)) out.push({ path: p, repeats: nodes.length > 1 });
      out.push(...elements(nodes[0], p));
    }
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

/** A place as seen from records at an XPath that was typed: below the element it ends with, when the place is there. */
export function withinTyped(each: string, path: string): string | null {
  const name = /(?:^|[/:])([\p{L}_][\p{L}\p{N}_.-]*)(\[[^[\]]*\])?$/u.exec(each.trim())?.[1];
  const steps = path.split('/');
  const at = name ? steps.lastIndexOf(name) : -1;
  const rest = steps.slice(at + 1);
  return at < 0 || rest.length === 0 || rest.includes(DOCUMENT) ? null : rest.join('/');
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

/** Whether it has a value of its own: attributes beside a text do not change that. */
export const isLeaf = (t: Tree) => !t.children?.some((c) => !c.name.startsWith('@')) && (!t.children || !!t.text);

/**
 * All values of an answer, each path once. A document in a string is one value, unless it is the one that records are
 * taken from.
 */
export function leaves(t: Tree, path = '', each = ''): { path: string; text?: string }[] {
  const seen = new Set<string>();
  return (t.children ?? []).flatMap((c) => {
    const p = path ? `${path}/${c.name}` : c.name;
    if (seen.has(p)) return [];
    seen.add(p);
    const opens = c.children && (!isString(c) || each.startsWith(`${p}/`));
    const inside = opens ? leaves(c, p, each) : [];
    return !opens || isLeaf(c) ? [{ path: p, text: c.text }, ...inside] : inside;
  });
}

/** A column's name for a path: its last name in snake case, made unique. */
export const columnName = (path: string, taken: Column[]) => {
  const base = path
    .replace(/^.*\//, '')
    .replace('@', '')
    .replace(/([a-z0-9])([A-Z])/g, '$1_$2')
    .toLowerCase();
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

/** What says how a message is written, not what it says: references and types of SOAP's encoding (SOAP 1.1 §5). */
export function isPlumbing(path: string, text: string | undefined): boolean {
  const name = path.slice(path.lastIndexOf('/') + 1);
  if (name === '@href') return !!text?.startsWith('#');
  return ['@root', '@arrayType', '@offset', '@position', '@encodingStyle', '@itemType', '@arraySize'].includes(name);
}
