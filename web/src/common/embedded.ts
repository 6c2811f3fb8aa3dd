import type { Tree } from '../api/types';

/** The name of the place inside a string where its document begins. */
export const DOCUMENT = '⟨document⟩';
/** Likewise where its JSON begins; below it an item of an array is `*`. */
export const JSON_TEXT = '⟨json⟩';
export const ITEM = '*';

/** A part of a JSON text; items of arrays have numbers for names. */
export interface JsonPart extends Tree {
  isItem?: boolean;
}
/** A document found inside a string, as a tree. */
export interface Embedded {
  kind: 'XML' | 'JSON';
  root: Tree;
}
const MAX_CHARS = 1_000_000;

function ofElement(e: Element): Tree {
  const children: Tree[] = [...e.attributes]
    .filter((a) => a.name !== 'xmlns' && !a.name.startsWith('xmlns:'))
    .map((a) => ({ name: `@${a.localName}`, text: a.value }));
  const elements = [...e.children].map(ofElement);
  const all = [...children, ...elements];
  return {
    name: e.localName,
    namespace: e.namespaceURI ?? undefined,
    ...(elements.length === 0 ? { text: e.textContent ?? '' } : {}),
    ...(all.length ? { children: all } : {}),
  };
}

function ofValue(name: string, v: unknown): JsonPart {
  if (Array.isArray(v)) return { name, children: v.map((x, i) => ({ ...ofValue(String(i + 1), x), isItem: true })) };
  if (v !== null && typeof v === 'object') return { name, children: Object.entries(v).map(([k, x]) => ofValue(k, x)) };
  if (v === null || v === undefined) return { name, nil: true };
  return { name, text: typeof v === 'string' ? v : JSON.stringify(v) };
}

/** The XML or JSON document a text is, if it is one. */
export function embedded(text: string | undefined): Embedded | null {
  const t = text?.trim() ?? '';
  if (t.length < 2 || t.length > MAX_CHARS) return null;
  if (t.startsWith('<') && t.endsWith('>')) {
    const d = new DOMParser().parseFromString(t, 'application/xml');
    return d.getElementsByTagName('parsererror').length || !d.documentElement
      ? null
      : { kind: 'XML', root: ofElement(d.documentElement) };
  }
  if ((t.startsWith('{') && t.endsWith('}')) || (t.startsWith('[') && t.endsWith(']'))) {
    try {
      return { kind: 'JSON', root: ofValue('', JSON.parse(t)) };
    } catch {
      return null;
    }
  }
  return null;
}

/** How a member is looked up in a JSON map or array (XPath 3.1 §3.11.3). */
export const lookup = (path: string, key: string) =>
  `${path}?${/^([\p{L}_][\p{L}\p{N}_.-]*|\d+)$/u.test(key) ? key : `("${key.replace(/"/g, '""')}")`}`;
