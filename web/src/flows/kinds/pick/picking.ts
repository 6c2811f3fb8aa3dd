import type { Column, RecordKind, Specimen, StepOf, TriedColumn } from '../../../api/types';
import {
  columnName,
  elements,
  fromXPath,
  guess,
  isPlumbing,
  leaves,
  plain,
  resolve,
  toXPath,
  type Leaf,
  withinTyped,
  xpathFrom,
} from './paths';
import { columnType, type Known } from './places';

type PickStep = StepOf<'pick'>;

/** What is picked from the answer, of one kind: a step's own, or a further one. */
export const kindsOf = (step: PickStep): RecordKind[] => [step, ...(step.also ?? [])];

/** Changes one of a step's kinds of records. */
export const withKind = (step: PickStep, at: number, change: (k: RecordKind) => RecordKind): PickStep =>
  at === 0
    ? { ...step, ...change({ as: step.as, each: step.each, columns: step.columns }) }
    : { ...step, also: step.also?.map((k, i) => (i === at - 1 ? change(k) : k)) };

export const resultName = (k: RecordKind) => k.as ?? 'result';

/** One kind of records more, under a name of its own. */
export function withOneMore(step: PickStep): PickStep {
  const names = kindsOf(step).map(resultName);
  let n = 2;
  while (names.includes(`result_${n}`)) n++;
  return { ...step, as: resultName(step), also: [...(step.also ?? []), { as: `result_${n}`, columns: [] }] };
}

/** A step keeps one kind at least. */
export function withoutKind(step: PickStep, at: number): PickStep {
  const left = kindsOf(step).filter((_, i) => i !== at);
  const [own, ...also] = left.length ? left : [step];
  return {
    ...step,
    as: own.as,
    each: own.each,
    columns: own.columns,
    also: also.length ? also : undefined,
  };
}

/** How a place in the answer is reached from where one record is. */
export function xpathOf(eachXPath: string | undefined, path: string): string {
  const at = plain(path);
  const each = eachXPath ? fromXPath(eachXPath) : '';
  if (each === null) return withinTyped(eachXPath ?? '', at) ?? toXPath(at);
  return each ? xpathFrom(each, at) : toXPath(at);
}

/** The type a column of it gets: what is known of all answers, or what its value looks like. */
const typeOf = (l: Pick<Leaf, 'text' | 'type'>) => l.type ?? guess(l.text);

/** Takes a field of the answer, or leaves it out again. */
export function ticked<K extends RecordKind>(step: K, path: string, leaf: Pick<Leaf, 'text' | 'type'>): K {
  const xpath = xpathOf(step.each, path);
  const columns = step.columns.some((c) => c.xpath === xpath)
    ? step.columns.filter((c) => c.xpath !== xpath)
    : [...step.columns, { name: columnName(plain(path), step.columns), xpath, type: typeOf(leaf) }];
  return { ...step, columns };
}

/** Another place where one record is; the ticked fields stay the same fields, seen from there. */
export function seenFrom<K extends RecordKind>(step: K, to: string): K {
  const typed = to.trim();
  const isExpression = /^(\$|parse-|\(|for |[\w-]+\()/.test(typed);
  const path = `$reply/${typed.replace(/^\/(?!\/)/, '')}`.replace('$reply///', '$reply//');
  const each = !typed ? undefined : isExpression ? typed : path;
  const next = each ? fromXPath(each) : '';
  const columns = step.columns.map((c) => {
    const at = placeOf(step.each, c.xpath);
    return at === null || next === null ? c : { ...c, xpath: next ? xpathFrom(next, at) : toXPath(at) };
  });
  return { ...step, each, columns };
}

/** The place in the answer that a column takes its value from; null when it is computed otherwise. */
export function placeOf(each: string | undefined, xpath: string | undefined): string | null {
  if (xpath === undefined) return null;
  const from = each ? fromXPath(each) : '';
  return fromXPath(xpath) ?? (xpath.startsWith('$') || from === null ? null : resolve(from, xpath));
}

/**
 * All values that one record has, of this answer and of others seen, without what repeats inside it and what is only
 * how it is written.
 */
export function taken<K extends RecordKind>(step: K, answer: Known): K {
  const each = step.each ? fromXPath(step.each) : '';
  if (each === null) return step;
  const columns = [...step.columns];
  const deeper = elements(answer)
    .filter((e) => e.repeats && !(each === e.path || each.startsWith(`${e.path}/`)))
    .map((e) => e.path);
  leaves(answer, '', each)
    .filter((l) => !isPlumbing(l.path, l.text) && (!l.isUnseen || l.seen))
    .filter((l) => !deeper.some((d) => l.path === d || l.path.startsWith(`${d}/`)))
    .forEach((l) => {
      const xpath = xpathOf(step.each, l.path);
      if (!columns.some((c) => c.xpath === xpath))
        columns.push({ name: columnName(l.path, columns), xpath, type: typeOf(l) });
    });
  return { ...step, columns };
}

/** Carries a field of the source through. */
export function carried<K extends RecordKind>(step: K, field: string, specimen: Specimen | undefined): K {
  const type = specimen?.fields.find((f) => f.name === field && !f.pattern)?.type ?? 'string';
  const column = { name: columnName(field, step.columns), xpath: `$record/${field}`, type };
  return { ...step, columns: [...step.columns, column] };
}

/** The fields of the source that are not carried yet. */
export const notCarried = (step: RecordKind, specimen: Specimen | undefined) =>
  (specimen?.fields ?? []).filter((f) => !f.fields && !step.columns.some((c) => c.xpath === `$record/${f.name}`));

/** Carries all that is left of the source's fields. */
export const allCarried = <K extends RecordKind>(step: K, specimen: Specimen | undefined): K =>
  notCarried(step, specimen).reduce((s, f) => carried(s, f.name, specimen), step);

/** Whether a column's value is the same wherever it is computed: of the record or the answer as a whole. */
const isAbsolute = (xpath: string) => xpath.startsWith('$') || xpath.startsWith('parse-');

/** Columns of a kind by which its records can be told apart from those of another. */
export const identifying = (of: RecordKind, from: RecordKind): Column[] =>
  of.columns.filter((c) => c.xpath && !isKey(c) && seenBy(of, from, c.xpath) !== null);

const isKey = (c: Column) => !!c.xpath?.startsWith('wk:key(');

/** An expression of one kind's column as another kind's records see it; null when they do not. */
function seenBy(of: RecordKind, from: RecordKind, xpath: string): string | null {
  if (isAbsolute(xpath)) return xpath;
  const place = placeOf(of.each, xpath);
  if (place === null || (from.each && fromXPath(from.each) === null)) return null;
  // Through a repeat of its own there is more than one value to be had.
  const own = of.each ? fromXPath(of.each) : '';
  if (own && !(fromXPath(from.each ?? '') ?? '').startsWith(`${own}/`)) return null;
  return xpathOf(from.each, place);
}

/**
 * Links a kind's records to those of another: both get a column with a key made of the other's values, which is the
 * same in both.
 */
export function linked(step: PickStep, at: number, to: number, names: string[]): PickStep {
  const kinds = kindsOf(step);
  const [target, own] = [kinds[to], kinds[at]];
  const by = target.columns.filter((c) => names.includes(c.name) && c.xpath);
  const key = `wk:key(${by.map((c) => c.xpath).join(', ')})`;
  const seen = by.map((c) => seenBy(target, own, c.xpath ?? ''));
  if (by.length === 0 || seen.includes(null)) return step;
  const withKey = (k: RecordKind, xpath: string): RecordKind => {
    const others = k.columns.filter((c) => c.xpath !== xpath);
    const column = { name: columnName(`${resultName(target)}_id`, others), xpath, type: 'string' };
    return { ...k, columns: [column, ...others] };
  };
  return withKind(
    withKind(step, to, (k) => withKey(k, key)),
    at,
    (k) => withKey(k, `wk:key(${seen.join(', ')})`),
  );
}

export const added = <K extends RecordKind>(step: K, name: string, column: Omit<Column, 'name'>): K => ({
  ...step,
  columns: [...step.columns, { ...column, name: columnName(name, step.columns) }],
});

const NOW: Record<string, string> = { dateTime: 'current-dateTime()', date: 'current-date()', time: 'current-time()' };

/** The time of the call as the type it is wanted in; another value keeps its expression. */
export function retyped(column: Column, type: string): Column {
  const isNow = Object.values(NOW).includes(column.xpath ?? '');
  return isNow && NOW[type] ? { ...column, type, xpath: NOW[type] } : { ...column, type };
}

/** Changes the column at a place, if it is still there. */
export const changed = <K extends RecordKind>(step: K, at: number, change: (c: Column) => Column | null): K => ({
  ...step,
  columns: step.columns.flatMap((c, i) => (i === at ? (change(c) ?? []) : c)),
});

/** A place of strings in the answer whose shape is said. */
const stringAt = (path: string) => toXPath(plain(path));

export const shapeAt = (step: PickStep, path: string) => step.opened?.find((o) => o.text === stringAt(path))?.shape;

/** Says what strings at a place have inside; nothing takes it back. */
export function shaped(step: PickStep, path: string, shape: string | undefined): PickStep {
  const others = (step.opened ?? []).filter((o) => o.text !== stringAt(path));
  const opened = shape ? [...others, { text: stringAt(path), shape }] : others;
  return { ...step, opened: opened.length ? opened : undefined };
}

/** What answers say that a column is, when it is text until now: how it would be taken. */
export function proposed(column: Column, tried: TriedColumn | undefined): Partial<Column> | null {
  const type = columnType(tried?.type ?? 'string');
  const isText = !column.type || column.type === 'string';
  if (!tried || tried.odd > 0 || tried.values === 0 || type === 'string' || !isText || column.xpath === undefined)
    return null;
  return tried.xpath ? { type, xpath: tried.xpath } : { type };
}
