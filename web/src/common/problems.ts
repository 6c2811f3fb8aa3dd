import type { Problem } from '../api/types';

/** The path of the mapping's row that a problem is about; empty when it is about none. */
export const rowOf = (p: Problem) => p.place?.row ?? '';

/** The name at the end of that path. */
export const rowNameOf = (p: Problem) => rowOf(p).slice(rowOf(p).lastIndexOf('/') + 1);

/** What is said where the place is not shown beside it. */
export const inWords = (p: Problem) => (p.place?.row ? `${rowNameOf(p)} ${p.text}` : p.text);

/** Of a fill, what is wrong with rows that do have a value. */
export function misfits(fill: { problems: Problem[]; unfilled: string[] }): Problem[] {
  const unfilled = new Set(fill.unfilled);
  return fill.problems.filter((p) => !unfilled.has(rowOf(p)));
}
