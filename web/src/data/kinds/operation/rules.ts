import type { Field, Rule, ShapeRow, SourceView } from '../../../api/types';
import type { SourceSettings } from '../kind';

export type Asked = NonNullable<SourceView['settings']['asked']>;

export const isReady = (s: SourceSettings) => !!s.connection && !!s.asked?.operation && !!s.asked.rows?.trim();

/** What stands in a row's cell: a leading quote makes a fixed text, anything else is an expression. */
export const typed = (r?: Rule) => (r?.text !== undefined ? `"${r.text}` : (r?.xpath ?? ''));

/** The rules with a row's value as it was typed; nothing typed is no rule. */
export function withValue(rules: Rule[], path: string, text: string): Rule[] {
  const rest = rules.filter((r) => r.path !== path);
  if (!text.trim()) return rest;
  return [...rest, text.startsWith('"') ? { path, text: text.slice(1) } : { path, xpath: text }];
}

/** The rows of a request that take a value; it is needed where nothing around it may be left out. */
export function valueRows(rows: ShapeRow[]): (ShapeRow & { isNeeded: boolean })[] {
  const free = rows.filter((r) => !r.required || r.kind === 'choice').map((r) => `${r.path}/`);
  const own = rows
    .filter((r) => r.hasText && !r.header && (r.kind === 'element' || r.kind === 'attribute'))
    .map((r) => ({ ...r, isNeeded: r.required && !free.some((p) => r.path.startsWith(p)) }));
  return [...own.filter((r) => r.isNeeded), ...own.filter((r) => !r.isNeeded)];
}

/** What of an answer repeats, as the expression that gives each of it. */
export const repeatsOf = (rows: ShapeRow[]) =>
  rows.filter((r) => r.repeated && r.kind === 'element').map((r) => `$reply/${fromReply(r.path)}`);

/** A row's path without groups, from the answer's own element. */
const fromReply = (path: string) =>
  path
    .split('/')
    .slice(1)
    .filter((s) => !/^(choice|group)\d*$/.test(s))
    .join('/');

/** The fields that were seen stay known, without what their values told: nobody is asked for them later. */
export const kept = (s: SourceSettings, fields: Field[]): SourceSettings =>
  s.asked ? { ...s, asked: { ...s.asked, known: fields.length ? fields.map(plain) : s.asked.known } } : s;

const plain = ({ name, label, type, many, fields }: Field): Field => ({
  name,
  label,
  type,
  many,
  fields: fields?.map(plain),
});
