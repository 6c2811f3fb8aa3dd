import type { Column, Specimen, StepOf, Tree } from '../../../api/types';
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
  withinTyped,
  xpathFrom,
} from './paths';

type Pick = StepOf<'pick'>;

/** How a place in the answer is reached from where one record is. */
export function xpathOf(eachXPath: string | undefined, path: string): string {
  const at = plain(path);
  const each = eachXPath ? fromXPath(eachXPath) : '';
  if (each === null) return withinTyped(eachXPath ?? '', at) ?? toXPath(at);
  return each ? xpathFrom(each, at) : toXPath(at);
}

/** Takes a field of the answer, or leaves it out again. */
export function ticked(step: Pick, path: string, sample: string | undefined): Pick {
  const xpath = xpathOf(step.each, path);
  const columns = step.columns.some((c) => c.xpath === xpath)
    ? step.columns.filter((c) => c.xpath !== xpath)
    : [...step.columns, { name: columnName(plain(path), step.columns), xpath, type: guess(sample) }];
  return { ...step, columns };
}

/** Another place where one record is; the ticked fields stay the same fields, seen from there. */
export function seenFrom(step: Pick, to: string): Pick {
  const typed = to.trim();
  const isExpression = /^(\$|parse-|\(|for |[\w-]+\()/.test(typed);
  const path = `$reply/${typed.replace(/^\/(?!\/)/, '')}`.replace('$reply///', '$reply//');
  const each = !typed ? undefined : isExpression ? typed : path;
  const before = step.each ? fromXPath(step.each) : '';
  const next = each ? fromXPath(each) : '';
  const absolute = (c?: string) => {
    if (c === undefined) return null;
    return fromXPath(c) ?? (c.startsWith('$') || before === null ? null : resolve(before, c));
  };
  const columns = step.columns.map((c) => {
    const at = absolute(c.xpath);
    return at === null || next === null ? c : { ...c, xpath: next ? xpathFrom(next, at) : toXPath(at) };
  });
  return { ...step, each, columns };
}

/** All values of the answer that one record has, without what repeats inside it and what is only how it is written. */
export function taken(step: Pick, answer: Tree): Pick {
  const each = step.each ? fromXPath(step.each) : '';
  if (each === null) return step;
  const columns = [...step.columns];
  const deeper = elements(answer)
    .filter((e) => e.repeats && !(each === e.path || each.startsWith(`${e.path}/`)))
    .map((e) => e.path);
  leaves(answer, '', each)
    .filter((l) => !isPlumbing(l.path, l.text))
    .filter((l) => !deeper.some((d) => l.path === d || l.path.startsWith(`${d}/`)))
    .forEach((l) => {
      const xpath = xpathOf(step.each, l.path);
      if (!columns.some((c) => c.xpath === xpath))
        columns.push({ name: columnName(l.path, columns), xpath, type: guess(l.text) });
    });
  return { ...step, columns };
}

/** Carries a field of the source through. */
export function carried(step: Pick, field: string, specimen: Specimen | undefined): Pick {
  const type = specimen?.fields.find((f) => f.name === field && !f.pattern)?.type ?? 'string';
  const column = { name: columnName(field, step.columns), xpath: `$record/${field}`, type };
  return { ...step, columns: [...step.columns, column] };
}

export const added = (step: Pick, name: string, column: Omit<Column, 'name'>): Pick => ({
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
export const changed = (step: Pick, at: number, change: (c: Column) => Column | null): Pick => ({
  ...step,
  columns: step.columns.flatMap((c, i) => (i === at ? (change(c) ?? []) : c)),
});
