import type { Column, Field, PickTrial, Step, StepOf, TriedColumn } from '../../../api/types';
import { kindsOf, resultName } from '../pick/picking';
import { columnType } from '../pick/places';

/** Steps that leave rows behind, with the name and the columns of these. */
export interface Rows {
  name: string;
  columns: Column[];
}

export function rowsOf(before: Step[]): Rows[] {
  return before.flatMap((s): Rows[] => {
    if (s.kind === 'pick') return kindsOf(s).map((k) => ({ name: resultName(k), columns: k.columns }));
    if (s.kind === 'each' && s.collect?.as) return [{ name: s.collect.as, columns: s.collect.columns ?? [] }];
    if (s.kind === 'shape' && s.as && s.as !== 'record') return [{ name: s.as, columns: s.columns ?? [] }];
    if (s.kind === 'document' && s.as) return [{ name: s.as, columns: [] }];
    return [];
  });
}

/** What a new write step writes: the latest rows there are; the record itself when there are none. */
export const rowsBefore = (before: Step[]): string | undefined => {
  const latest = rowsOf(before).at(-1);
  return latest && `$${latest.name}`;
};

/** The pick whose records are written, and which of its kinds. */
export function pickOf(before: Step[], from: string | undefined): { step: StepOf<'pick'>; at: number } | undefined {
  const step = before.findLast(
    (s): s is StepOf<'pick'> => s.kind === 'pick' && kindsOf(s).some((k) => from === `$${resultName(k)}`),
  );
  return step && { step, at: kindsOf(step).findIndex((k) => from === `$${resultName(k)}`) };
}

/** What answers had of the columns of a pick's kind. */
export const seenOf = (trial: PickTrial | undefined, at: number | undefined): TriedColumn[] =>
  at === undefined ? [] : (trial?.kinds.at(at)?.columns ?? []);

/** Fields with what was seen of them: how long texts are, and whether there always is a value. */
export const asSeen = (fields: Field[], seen: TriedColumn[]): Field[] =>
  fields.map((f) => {
    const of = seen.find((c) => c.name === f.label);
    if (!of || of.values === 0) return f;
    return { ...f, length: f.type === 'string' ? of.longest : undefined, required: of.blank === 0 };
  });

/** How many texts seen are longer than a column takes. */
export const tooLong = (seen: TriedColumn | undefined, length: number | undefined): number =>
  !seen || length === undefined ? 0 : seen.lengths.slice(length + 1).reduce((n, x) => n + x, 0);

/** A column for each value of nested rows; of what repeats all values in one text. */
export function flattened(fields: Field[], at: string[] = []): Column[] {
  return fields.flatMap((f): Column[] => {
    const path = [...at, f.name];
    if (f.fields && !f.many) return flattened(f.fields, path);
    const name = [...at, f.label].join('_').replaceAll('@', '');
    const xpath = path.join('/');
    return [
      f.many
        ? {
            name,
            xpath: f.fields ? `count(${xpath})` : `string-join(${xpath}, ', ')`,
            type: f.fields ? 'integer' : 'string',
          }
        : { name, xpath, type: columnType(f.type) },
    ];
  });
}
