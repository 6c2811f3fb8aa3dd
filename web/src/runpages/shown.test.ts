import { expect, test } from 'vitest';
import type { ShownField } from '../api/types';
import { shownOf, valueAt, words } from './shown';

const field = (name: string, kind: string, more: Partial<ShownField> = {}): ShownField => ({
  name,
  label: name,
  kind,
  many: false,
  ...more,
});

test('a list of records is a table, with what is inside of groups as columns', () => {
  const shown = [field('berth', 'text'), field('size', 'group', { label: 'Size', fields: [field('depth', 'number')] })];
  const s = shownOf({ shown, isList: true }, [{ berth: 'E1', size: { depth: 8.5 } }]);
  expect(s.values).toEqual([]);
  expect(s.tables[0].columns.map((c) => c.label)).toEqual(['berth', 'Size depth']);
  expect(valueAt(s.tables[0].rows[0], s.tables[0].columns[1].name)).toBe(8.5);
});

test('a record has values, and a table for each of its lists', () => {
  const shown = [
    field('port', 'text', { label: 'Port' }),
    field('agent', 'group', { fields: [field('name', 'text')] }),
    field('free', 'group', { many: true, fields: [field('berth', 'text')] }),
  ];
  const s = shownOf(
    { shown, isList: false },
    { port: 'TLWRC', agent: { name: 'Ada' }, free: [{ berth: 'E1' }, { berth: 'W3' }] },
  );
  expect(s.values.map((v) => `${v.label}: ${String(v.value)}`)).toEqual(['Port: TLWRC', 'agent name: Ada']);
  expect(s.tables.map((t) => [t.label, t.rows.length])).toEqual([['free', 2]]);
});

test('what is not known before is shown as it is', () => {
  const s = shownOf({ isList: false }, { n: 7, rows: [{ a: 1 }] });
  expect(s.values.map((v) => v.label)).toEqual(['n']);
  expect(s.tables[0].columns.map((c) => c.name)).toEqual(['a']);
  expect(shownOf({ isList: false }, undefined)).toEqual({ values: [], tables: [] });
});

test('values are as people read them', () => {
  expect(words({ kind: 'date' }, '2031-04-02')).toBe('2 Apr 2031');
  expect(words({ kind: 'dateTime' }, '2031-04-02T21:40:00')).toBe('2 Apr 2031, 21:40');
  expect(words({ kind: 'number', unit: 'm' }, 8.5)).toBe('8.5 m');
  expect(words({ kind: 'truth' }, true)).toBe('yes');
  expect(words({ kind: 'text' }, ['a', 'b'])).toBe('a, b');
  expect(words({ kind: 'text' }, null)).toBe('');
});
