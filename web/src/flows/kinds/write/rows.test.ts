import { describe, expect, it } from 'vitest';
import type { Field, Step } from '../../../api/types';
import { asSeen, flattened, pickOf, tooLong } from './rows';

const field = (name: string, more: Partial<Field> = {}): Field => ({ name, label: name, type: 'string', ...more });
const seen = { name: 'port', values: 3, blank: 0, longest: 5, lengths: [0, 0, 1, 0, 0, 2], type: 'string', odd: 0 };

it('texts are as long as those seen, and needed where none was missing', () => {
  const [port, depth, note] = asSeen(
    [field('port'), field('depth', { type: 'decimal' }), field('note')],
    [seen, { ...seen, name: 'depth', blank: 2 }],
  );
  expect([port.length, port.required]).toEqual([5, true]);
  expect([depth.length, depth.required]).toEqual([undefined, false]);
  expect(note).toEqual(field('note'));
});

it('values that a column is too short for are counted', () => {
  expect(tooLong(seen, 4)).toBe(2);
  expect(tooLong(seen, 5)).toBe(0);
  expect(tooLong(seen, undefined)).toBe(0);
  expect(tooLong(undefined, 1)).toBe(0);
});

it('the pick is found whose records are written, and which of its kinds', () => {
  const steps = [
    { id: 'p', kind: 'pick', columns: [], also: [{ as: 'watch', columns: [] }] },
    { id: 'q', kind: 'pick', as: 'other', columns: [] },
  ] as unknown as Step[];
  expect(pickOf(steps, '$watch')).toMatchObject({ step: { id: 'p' }, at: 1 });
  expect(pickOf(steps, '$other')).toMatchObject({ step: { id: 'q' }, at: 0 });
  expect(pickOf(steps, '$none')).toBeUndefined();
});

describe('flat rows of nested ones', () => {
  it('have a column for each value', () => {
    const place = field('place', { type: 'nested', fields: [field('berth'), field('@no', { type: 'int' })] });
    const line = field('line', { type: 'nested', many: true, fields: [field('goods')] });
    expect(flattened([field('port'), place, line, field('hold', { many: true })])).toEqual([
      { name: 'port', xpath: 'port', type: 'string' },
      { name: 'place_berth', xpath: 'place/berth', type: 'string' },
      { name: 'place_no', xpath: 'place/@no', type: 'integer' },
      { name: 'line', xpath: 'count(line)', type: 'integer' },
      { name: 'hold', xpath: "string-join(hold, ', ')", type: 'string' },
    ]);
  });
});
