import type { Rule } from '../../api/types';

/** A list in which a value is looked up. */
export type List = NonNullable<Rule['list']>;
type Entries = NonNullable<List['entries']>;

/** Entries as they are typed: one a line, `from = to`. */
export const asLines = (entries?: Entries | null) => (entries ?? []).map((e) => `${e.from} = ${e.to}`).join('\n');

/** Lines as entries; an equals sign stands between what is looked up and what it gives. */
export const fromLines = (text: string): Entries =>
  text.split('\n').flatMap((line) => {
    const at = line.indexOf('=');
    const from = line.slice(0, at).trim();
    return at < 0 || !from ? [] : [{ from, to: line.slice(at + 1).trim() }];
  });

/** A source chosen for the first time: looked up by its first field, giving the next. */
export const firstOf = (source: string, fields: { name: string }[]): List => ({
  source,
  key: fields[0]?.name,
  value: (fields[1] ?? fields[0])?.name,
});
