import { describe, expect, it } from 'vitest';
import type { ShapeRow } from '../../../api/types';
import { isReady, kept, repeatsOf, typed, valueRows, withValue } from './rules';

const row = (path: string, by: Partial<ShapeRow> = {}) =>
  ({ path, name: path, kind: 'element', hasText: true, required: false, repeated: false, ...by }) as ShapeRow;

describe('an operation as a source', () => {
  it('has values typed as in a fill', () => {
    const rules = withValue(withValue([], 'Ask/port', '"TLWRC'), 'Ask/page', '$page');
    expect(rules).toEqual([
      { path: 'Ask/port', text: 'TLWRC' },
      { path: 'Ask/page', xpath: '$page' },
    ]);
    expect(rules.map(typed)).toEqual(['"TLWRC', '$page']);
    expect(withValue(rules, 'Ask/port', ' ')).toEqual([rules[1]]);
  });
  it('offers required rows first, and what repeats in the answer', () => {
    const rows = [row('Ask/a'), row('Ask/b', { required: true }), row('Ask/c', { hasText: false })];
    expect(valueRows(rows).map((r) => r.path)).toEqual(['Ask/b', 'Ask/a']);
    const inside = [row('Ask', { required: true }), row('Ask/choice', { kind: 'choice' }), row('Ask/choice/d')];
    const needed = valueRows(inside.map((r) => ({ ...r, required: true })));
    expect(needed.map((r) => r.isNeeded)).toEqual([true, false]);
    expect(repeatsOf([row('Tell/choice/window', { repeated: true }), row('Tell/note')])).toEqual(['$reply/window']);
  });
  it('keeps the fields that were seen, without their values', () => {
    const asked = { contract: 'Tides', operation: 'ask', rows: '$reply/window' };
    const s = { connection: 'desk', asked };
    expect(isReady(s)).toBe(true);
    expect(isReady({ ...s, asked: { ...asked, rows: ' ' } })).toBe(false);
    const seen = { sampled: 3, blank: 0, odd: 0 };
    const fields = [{ name: 'opens', label: 'opens', type: 'dateTime', seen }];
    expect(kept(s, fields as never).asked?.known).toEqual([{ name: 'opens', label: 'opens', type: 'dateTime' }]);
    expect(kept(s, []).asked?.known).toBeUndefined();
  });
});
