import { expect, test } from 'vitest';
import type { Problem } from '../api/types';
import { inWords, misfits, rowNameOf, rowOf } from './problems';

const problem = (place?: Problem['place']): Problem => ({
  severity: 'ERROR',
  code: 'unfilled',
  text: 'is required',
  affectsMessages: true,
  place,
});

test('a problem of a row names the row before its text', () => {
  const p = problem({ line: 0, column: 0, step: 's2', row: 'Ask/ship/draught' });
  expect(rowOf(p)).toBe('Ask/ship/draught');
  expect(rowNameOf(p)).toBe('draught');
  expect(inWords(p)).toBe('draught is required');
});

test('one that has no row, or no place at all, is its text', () => {
  expect(inWords(problem({ line: 0, column: 0, step: 's2' }))).toBe('is required');
  expect(inWords(problem())).toBe('is required');
  expect(rowOf(problem())).toBe('');
});

test('what has no value is no misfit', () => {
  const at = (row: string) => problem({ line: 0, column: 0, row });
  const problems = [at('Ask/port'), at('Ask/draught')];
  expect(misfits({ problems, unfilled: ['Ask/port'] })).toEqual([problems[1]]);
});
