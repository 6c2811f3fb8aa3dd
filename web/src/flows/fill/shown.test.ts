import { expect, it } from 'vitest';
import type { Rule } from '../../api/types';
import { row } from '../testing';
import { cleared, shown, withInside, type Known, type Wish } from './shown';

const optional = { required: false };
const rows = [
  row('A', optional),
  row('A/port', { required: true }),
  row('A/ship', optional),
  row('A/ship/name', optional),
  row('A/ship/imo', { ...optional, documentation: 'the number painted on the hull' }),
  row('A/choice', { ...optional, kind: 'choice' }),
  row('A/choice/mail', optional),
];
const known: Known = {
  rules: [{ path: 'A/ship/name', xpath: 'x' }],
  hidden: new Set(['A/choice/mail']),
  unfilled: new Set(['A/port']),
  wrong: new Set(['A/ship/imo']),
};
const all: Wish = { show: 'all', find: '', folded: new Set() };
const paths = (wish: Partial<Wish>) => shown(rows, { ...all, ...wish }, known).map((r) => r.path);

it('all rows are shown but those of branches that are not taken', () => {
  expect(paths({})).toEqual(['A', 'A/port', 'A/ship', 'A/ship/name', 'A/ship/imo', 'A/choice']);
});

it('rows are shown by what they lack, each with what it is inside of', () => {
  expect(paths({ show: 'filled' })).toEqual(['A', 'A/port', 'A/ship', 'A/ship/name']);
  expect(paths({ show: 'open' })).toEqual(['A', 'A/port']);
  expect(paths({ show: 'problems' })).toEqual(['A', 'A/ship', 'A/ship/imo']);
});

it('a row is found by its name or its documentation, also where it is folded away', () => {
  expect(paths({ find: ' Hull ' })).toEqual(['A', 'A/ship', 'A/ship/imo']);
  expect(paths({ find: 'port', folded: new Set(['A']) })).toEqual(['A', 'A/port']);
  expect(paths({ find: 'nothing' })).toEqual([]);
});

it('what is inside of a folded row is away', () => {
  expect(paths({ folded: new Set(['A/ship']) })).toEqual(['A', 'A/port', 'A/ship', 'A/choice']);
  expect(paths({ folded: new Set(['A']) })).toEqual(['A']);
  expect([...withInside(rows)]).toEqual(['A', 'A/ship', 'A/choice']);
});

it('clearing takes the value, and leaves the kind and the occurrence', () => {
  const rules: Rule[] = [
    { path: 'a', xpath: 'x' },
    { path: 'b', kind: 'K', each: 'y' },
    { path: 'c[2]', xpath: 'z' },
  ];
  expect(cleared('a', rules).map((r) => r.path)).toEqual(['b', 'c[2]']);
  expect(cleared('b', rules)[1]).toEqual({ path: 'b', kind: 'K', kinds: undefined, branch: undefined });
  expect(cleared('c[2]', rules)[2].xpath).toBeUndefined();
});
