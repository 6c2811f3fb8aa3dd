import type { Column, Step } from '../../../api/types';
import { kindsOf, resultName } from '../pick/picking';

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
