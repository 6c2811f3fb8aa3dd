import { describe, expect, it } from 'vitest';
import type { ShapeRow } from '../api/types';
import { added, EMPTY_BENCH, lines, removed, rulesOf, stateOf, visible } from './benchRules';

const row = (path: string, over: Partial<ShapeRow> = {}) =>
  ({
    path,
    name: path.split('/').pop()!,
    depth: path.split('/').length - 1,
    kind: 'element',
    required: true,
    hasText: true,
    ...over,
  }) as ShapeRow;
const rows = [
  row('Ask', { hasText: false }),
  row('Ask/id'),
  row('Ask/note', { required: false }),
  row('Ask/ship', { required: false, hasText: false }),
  row('Ask/ship/name'),
  row('Ask/choice', { kind: 'choice', hasText: false }),
  row('Ask/choice/phone'),
  row('Ask/choice/email'),
];
const shown = (state: Partial<typeof EMPTY_BENCH>) =>
  visible(rows, { ...EMPTY_BENCH, ...state }).rows.map((r) => r.path);

describe('the rows of a request', () => {
  it('names secrets, and an empty name says nothing yet', () => {
    const state = { ...EMPTY_BENCH, secrets: { 'Ask/key': 'desk-key', 'Ask/other': '' } };
    expect(rulesOf(state)).toEqual([{ path: 'Ask/key', secret: 'desk-key' }]);
    const files = { ...EMPTY_BENCH, files: { 'Ask/paper': "o'clock.pdf" } };
    expect(rulesOf(files)).toEqual([{ path: 'Ask/paper', file: "'o''clock.pdf'" }]);
    expect(stateOf(rulesOf(files)).files).toEqual(files.files);
    expect(stateOf(rulesOf(state)).secrets).toEqual({ 'Ask/key': 'desk-key' });
  });
  it('are the required ones first, the optional ones folded', () => {
    expect(shown({})).toEqual(['Ask', 'Ask/id', 'Ask/choice']);
    expect(
      visible(rows, EMPTY_BENCH)
        .folded.get('Ask')
        ?.map((r) => r.path),
    ).toEqual(['Ask/note', 'Ask/ship']);
  });
  it('are followed by what is folded of their parent', () => {
    const deep = [
      row('Ask', { hasText: false }),
      row('Ask/ship', { hasText: false }),
      row('Ask/ship/name'),
      row('Ask/ship/flag', { required: false }),
      row('Ask/id'),
      row('Ask/note', { required: false }),
    ];
    expect(lines(visible(deep, EMPTY_BENCH)).map((l) => l.key)).toEqual([
      'Ask',
      'Ask/ship',
      'Ask/ship/name',
      'Ask/ship …',
      'Ask/id',
      'Ask …',
    ]);
  });
  it('unfold, and stay when they have a value', () => {
    expect(shown({ shown: ['Ask'] })).toEqual(['Ask', 'Ask/id', 'Ask/note', 'Ask/ship', 'Ask/ship/name', 'Ask/choice']);
    expect(shown({ values: { 'Ask/ship/name': 'Grey Plover' } })).toContain('Ask/ship/name');
  });
  it('show only the branch taken', () => {
    expect(shown({ branches: { 'Ask/choice': 'email' } })).toEqual(['Ask', 'Ask/id', 'Ask/choice', 'Ask/choice/email']);
    expect(shown({ values: { 'Ask/choice/phone': '12' } })).toContain('Ask/choice/phone');
  });
});

describe('what is typed', () => {
  it('becomes rules, and rules what is typed', () => {
    const state = {
      ...EMPTY_BENCH,
      values: { 'Ask/id': '1', 'Ask/note': '' },
      kinds: { 'Ask/ship': '{urn:t}Bulk' },
      branches: { 'Ask/choice': 'email' },
    };
    const rules = rulesOf(state);
    expect(rules).toEqual([
      { path: 'Ask/id', text: '1' },
      { path: 'Ask/ship', kind: '{urn:t}Bulk' },
      { path: 'Ask/choice', branch: 'email' },
    ]);
    expect(stateOf(rules)).toEqual({ ...state, values: { 'Ask/id': '1' }, opened: ['Ask'] });
  });
});

describe('repeating rows', () => {
  const two = {
    ...EMPTY_BENCH,
    values: { 'Ask/line/a': '1', 'Ask/line[2]/a': '2', 'Ask/line[3]/a': '3', 'Ask/lineage': 'x' },
    counts: { 'Ask/line': 3, 'Ask/line[3]/sub': 2 },
    nils: ['Ask/line[3]/b'],
  };
  it('are added, and those after one that is taken away move up', () => {
    expect(added(EMPTY_BENCH, 'Ask/line').counts).toEqual({ 'Ask/line': 2 });
    expect(added(two, 'Ask/line[2]').counts['Ask/line']).toBe(4);
    const less = removed(two, 'Ask/line[2]');
    expect(less.values).toEqual({ 'Ask/line/a': '1', 'Ask/line[2]/a': '3', 'Ask/lineage': 'x' });
    expect(less.counts).toEqual({ 'Ask/line': 2, 'Ask/line[2]/sub': 2 });
    expect(less.nils).toEqual(['Ask/line[2]/b']);
    expect(removed(two, 'Ask/line').values).toEqual({ 'Ask/line/a': '2', 'Ask/line[2]/a': '3', 'Ask/lineage': 'x' });
  });
  it('come back from rules', () => {
    const s = stateOf([
      { path: 'Ask/line/a', text: '1' },
      { path: 'Ask/line[2]/a', text: '2' },
      { path: 'Ask/note', whenEmpty: 'NIL' },
    ]);
    expect(s.counts).toEqual({ 'Ask/line': 2 });
    expect(s.nils).toEqual(['Ask/note']);
    expect(rulesOf(s)).toEqual([
      { path: 'Ask/line/a', text: '1' },
      { path: 'Ask/line[2]/a', text: '2' },
      { path: 'Ask/note', whenEmpty: 'NIL' },
    ]);
  });
  it('say nothing of what is inside nil but its attributes', () => {
    expect(
      rulesOf({ ...EMPTY_BENCH, values: { 'Ask/ship/name': 'x', 'Ask/ship/@line': '1' }, nils: ['Ask/ship'] }),
    ).toEqual([
      { path: 'Ask/ship/@line', text: '1' },
      { path: 'Ask/ship', whenEmpty: 'NIL' },
    ]);
  });
});
