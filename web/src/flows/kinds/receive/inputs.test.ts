import { expect, test } from 'vitest';
import { added, changed, inputsOf, limitsOf, parsed, retyped, rowsOf, sampleOf, withLimits } from './inputs';

const tree = [
  { name: 'port', type: 'string' },
  { name: 'cargo', type: 'nested', many: true, fields: [{ name: 'code', type: 'string' }] },
];

test('inputs inside of others are rows of their own', () => {
  expect(rowsOf(tree).map((r) => [r.input.name, r.at])).toEqual([
    ['port', [0]],
    ['cargo', [1]],
    ['code', [1, 0]],
  ]);
});

test('one is changed, added or taken out at its place', () => {
  expect(changed(tree, [1, 0], (i) => ({ ...i, name: 'kind' }))[1].fields).toEqual([{ name: 'kind', type: 'string' }]);
  expect(changed(tree, [0], () => null)).toHaveLength(1);
  expect(added(tree, [1])[1].fields?.map((f) => f.name)).toEqual(['code', 'input_1']);
  expect(added(added([])).map((f) => f.name)).toEqual(['input_1', 'input_2']);
});

test('limits are written as they are read', () => {
  for (const [type, text] of [
    ['decimal', '0–30'],
    ['decimal', 'from 0'],
    ['date', 'to 2031-12-31'],
    ['string', 'at most 5'],
    ['string', 'like [A-Z]{5}'],
    ['string', 'one of bulk, box'],
    ['string', ''],
  ])
    expect(limitsOf(withLimits({ name: 'x', type }, text)!)).toBe(text);
  expect(withLimits({ name: 'x', type: 'string' }, '0–30')).toBeUndefined();
  expect(withLimits({ name: 'x', type: 'decimal' }, 'deep')).toBeUndefined();
});

test('another type has no limits of the one before', () => {
  expect(retyped({ name: 'x', type: 'decimal', least: '0' }, 'string')).toEqual({ name: 'x', type: 'string' });
  expect(retyped({ name: 'x', type: 'nested', fields: [] }, 'date')).toEqual({ name: 'x', type: 'date' });
});

test('a sample tells inputs, and inputs make a sample', () => {
  const inputs = inputsOf({ port: 'TLWRC', draught: 7.2, eta: '2031-04-02T21:40', cargo: [{ tonnes: 3 }], note: null });
  expect(inputs).toEqual([
    { name: 'port', type: 'string', required: true },
    { name: 'draught', type: 'decimal', required: true },
    { name: 'eta', type: 'dateTime', required: true },
    {
      name: 'cargo',
      type: 'nested',
      many: true,
      required: true,
      fields: [{ name: 'tonnes', type: 'integer', required: true }],
    },
    { name: 'note', type: 'string' },
  ]);
  expect(Object.keys(sampleOf(inputs))).toEqual(['port', 'draught', 'eta', 'cargo']);
  expect(sampleOf(inputs).cargo).toEqual([{ tonnes: 1 }]);
});

test('only an object is a sample', () => {
  expect(parsed('{"a": 1}')).toEqual({ a: 1 });
  expect(parsed('[1]')).toBeUndefined();
  expect(parsed('{')).toBeUndefined();
});
