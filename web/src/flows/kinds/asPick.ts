import type { Column, StepOf } from '../../api/types';

type Pick = StepOf<'pick'>;

/** Columns of any step, as the table of columns edits them. */
export const asPick = (id: string, columns: Column[] | undefined, each?: string): Pick => ({
  id,
  kind: 'pick',
  columns: columns ?? [],
  each,
});
