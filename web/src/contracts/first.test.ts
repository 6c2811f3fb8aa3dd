import { expect, test } from 'vitest';
import type { OperationView } from '../api/types';
import { fitsText, isLong, ranked } from './first';

const operation = (name: string, documentation?: string) => ({ name, documentation }) as OperationView;
const many = Array.from({ length: 13 }, (_, i) => operation(`Op${i}`));
const isFirst = (o: OperationView) => o.name === 'Op7' || o.name === 'Op2';
const names = (all: OperationView[]) => all.map((o) => o.name);

test('those in use or marked come first, in their order', () => {
  expect(names(ranked(many, { isFirst, isFolded: false })).slice(0, 4)).toEqual(['Op2', 'Op7', 'Op0', 'Op1']);
  expect(ranked(many, { isFirst, isFolded: false })).toHaveLength(13);
});

test('the others are folded, but the one that is looked at', () => {
  expect(names(ranked(many, { isFirst, isFolded: true }))).toEqual(['Op2', 'Op7']);
  expect(names(ranked(many, { isFirst, isFolded: true, keep: many[9] }))).toEqual(['Op2', 'Op7', 'Op9']);
});

test('only a long list is folded, and only when something of it stands for it', () => {
  expect(isLong(many, isFirst)).toBe(true);
  expect(isLong(many.slice(0, 12), isFirst)).toBe(false);
  expect(isLong(many, () => false)).toBe(false);
});

test('an operation is found by its name and its documentation', () => {
  expect(fitsText(operation('GetTideWindow'), ' tide')).toBe(true);
  expect(fitsText(operation('Get', 'Windows for a draught'), 'DRAUGHT')).toBe(true);
  expect(fitsText(operation('Get'), 'draught')).toBe(false);
  expect(fitsText(operation('Get'), '')).toBe(true);
});
