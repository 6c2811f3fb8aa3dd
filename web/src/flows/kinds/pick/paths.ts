import type { Column, Tree } from '../../../api/types';
import type { Known } from './places';
import { DOCUMENT, embedded, ITEM, JSON_TEXT, lookup, type JsonPart } from '../../../common/embedded';

/** A path without positions. */
export const plain = (path: string) => path.replace(/\[\d+\]/g, '');

/**
 * The answer with the documents in its strings opened: inside such a string, below a node of its own, is the XML
 * document's root, or what the JSON text holds.
 */
export function expand(t: Tree): Tree {
  const named = (t as JsonPart).isItem ? { ...t, name: ITEM } : t;
  if (t.children) return { ...named, children: t.children.map(expand) };
  const inside = embedded(t.text);
  if (!inside) return named;
  const opened: Tree =
    inside.kind === 'XML'
      ? { name: DOCUMENT, children: [expand(inside.root)] }
      : { ...expand(inside.root), name: JSON_TEXT };
  return { ...named, children: [opened] };
}

const isMark = (name: string) => name === DOCUMENT || name === JSON_TEXT;
const isString = (t: Tree) => t.children?.length === 1 && isMark(t.children[0].name);

const OPENED = new RegExp(`/(${DOCUMENT}|${JSON_TEXT})/`);

/** The XPath of a place in the answer; a document in a string has to be parsed first. */
export const toXPath = (path: string, root = '$reply/') => opening(path, (first) => root + first);

/** @param outside the way to what is not inside a string */
function opening(path: string, outside: (first: string) => string): string {
  const [first, ...opened] = path.split(OPENED);
  let x = outside(first);
  for (let i = 0; i < opened.length; i += 2)
    x =
      opened[i] === DOCUMENT
        ? `parse-xml(${x})/${opened[i + 1]}`
        : opened[i + 1].split('/').reduce((at, s) => (s === ITEM ? `${at}?*` : lookup(at, s)), `parse-json(${x})`);
  return x;
}

const MEMBERS = /^parse-json\((.*)\)((?:\?(?:\*|[\p{L}_][\p{L}\p{N}_.-]*|\("(?:[^"]|"")*"\)))+)$/u;
const MEMBER = /\?(\*|[\p{L}_][\p{L}\p{N}_.-]*|\("(?:[^"]|"")*"\))/gu;

/** The place an XPath of that form means, or null for any other. */
export function fromXPath(x: string): string | null {
  const json = MEMBERS.exec(x);
  if (json) {
    const outer = fromXPath(json[1]);
    const names = [...json[2].matchAll(MEMBER)].map(([, m]) =>
      m.startsWith('(') ? m.slice(2, -2).replaceAll('""', '"') : m,
    );
    return outer === null ? null : `${outer}/${JSON_TEXT}/${names.join('/')}`;
  }
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
  const json = each.lastIndexOf(`${JSON_TEXT}/`);
  const cut = each.lastIndexOf(`${DOCUMENT}/`);
  if (json > cut) {
    // What is looked up in JSON stands alone: there is no way up from it.
    if (!path.startsWith(`${each}/`)) return toXPath(path);
    return opening(path.slice(each.length + 1), jsonNames);
  }
  const own = cut < 0 ? '' : each.slice(0, cut + DOCUMENT.length + 1);
  if (!path.startsWith(own)) return toXPath(path);
  return opening(path.slice(own.length), (first) => relative(each.slice(own.length), first));
}

/** A way below an item of JSON, which is a tree there: an array's items are elements of its name. */
const jsonNames = (path: string) =>
  path
    .split('/')
    .filter((s) => s !== ITEM)
    .map(xmlName)
    .join('/');

/** A name that is no XML name, as records have it. */
const xmlName = (label: string) =>
  [...label]
    .map((c, i) =>
      (i === 0 ? /[\p{L}_]/u : /[\p{L}\p{N}_.-]/u).test(c)
        ? c
        : `_x${c.codePointAt(0)?.toString(16).toUpperCase().padStart(4, '0')}_`,
    )
    .join('');

/** A place in words, for people: without the marks of what was opened. */
export const placeWords = (path: string) =>
  path
    .split('/')
    .filter((s) => !isMark(s) && s !== ITEM)
    .join('/');

/** Paths of elements with children, those that repeat marked. */
export function elements(t: Known, path = ''): { path: string; repeats: boolean }[] {
  const out: { path: string; repeats: boolean }[] = [];
  const groups = new Map<string, Known[]>();
  (t.children ?? []).forEach((c) => {
    if (!c.name.startsWith('@')) groups.set(c.name, [...(groups.get(c.name) ?? []), c]);
  });
  groups.forEach((nodes, n) => {
    const p = path ? `${path}/${n}` : n;
    const repeats = nodes.length > 1 || !!nodes[0].repeats;
    if (nodes.some((x) => x.children) || repeats) {
      const isArray = nodes[0].children?.every((c) => c.name === ITEM);
      const plainElement = !isMark(n) && !isString(nodes[0]) && !isArray;
      if (plainElement || (repeats && !isMark(n))) out.push({ path: p, repeats });
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

/** Instead of a place: also what is inside of strings. */
export const ALL = '**';

/** A value of an answer, with what is known of it. */
export type Leaf = { path: string } & Pick<Known, 'text' | 'type' | 'isUnseen' | 'seen'>;

/**
 * All values of an answer, each path once. A document in a string is one value, unless it is the one that records are
 * taken from, or all are wanted.
 */
export function leaves(t: Known, path = '', each = ''): Leaf[] {
  const paths = new Set<string>();
  return (t.children ?? []).flatMap((c) => {
    const p = path ? `${path}/${c.name}` : c.name;
    if (paths.has(p)) return [];
    paths.add(p);
    const opens = c.children && (!isString(c) || each === ALL || each.startsWith(`${p}/`));
    const inside = opens ? leaves(c, p, each) : [];
    const { text, type, isUnseen, seen } = c;
    return !opens || isLeaf(c) ? [{ path: p, text, type, isUnseen, seen }, ...inside] : inside;
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
