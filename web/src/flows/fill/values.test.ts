import { describe, expect, it } from 'vitest';
import type { ShapeRow } from '../../api/types';
import { accepted, fromTyped, fuzzy, merged, ruleOf, typed, typedIn } from './values';

const row = (over: Partial<ShapeRow>) => ({ path: 'a', repeated: false, hasText: true, ...over }) as ShapeRow;

describe('a typed value', () => {
  it('is XPath, or a fixed text after a quote', () => {
    expect(fromTyped(' eta ')).toEqual({ xpath: 'eta' });
    expect(fromTyped('"TLWRC')).toEqual({ text: 'TLWRC' });
    expect(fromTyped('"TLWRC"')).toEqual({ text: 'TLWRC' });
    expect(fromTyped('"')).toEqual({ text: '' });
    expect(fromTyped('  ')).toEqual({});
    expect(typed({ path: 'a', text: 'x' })).toBe('"x');
    expect(typed({ path: 'a', xpath: 'x' })).toBe('x');
    expect(typed()).toBe('');
  });
  it('names a secret after its word', () => {
    expect(fromTyped('secret: desk-key ')).toEqual({ secret: 'desk-key' });
    expect(fromTyped('"secret:desk')).toEqual({ text: 'secret:desk' });
    expect(typed({ path: 'a', secret: 'desk-key' })).toBe('secret:desk-key');
    expect(ruleOf(row({}), { path: 'a', text: 'old' }, 'secret:k')).toEqual({ path: 'a', secret: 'k' });
    expect(ruleOf(row({}), { path: 'a', secret: 'k' }, 'eta')).toEqual({ path: 'a', xpath: 'eta' });
    expect(merged([], { path: 'a', secret: 'k' })).toHaveLength(1);
  });
  it('names a file by an expression after its word', () => {
    expect(fromTyped("file: concat(call_ref, '.pdf')")).toEqual({ file: "concat(call_ref, '.pdf')" });
    expect(typed({ path: 'a', file: "'one.pdf'" })).toBe("file:'one.pdf'");
    expect(ruleOf(row({}), { path: 'a', file: "'x'" }, 'eta')).toEqual({ path: 'a', xpath: 'eta' });
    expect(merged([], { path: 'a', file: "'x'" })).toHaveLength(1);
  });
  it('is repeated over in a repeating row', () => {
    expect(ruleOf(row({ repeated: true, hasText: false }), undefined, 'hold')).toMatchObject({
      each: 'hold',
      xpath: undefined,
    });
    expect(ruleOf(row({ repeated: true }), undefined, 'note')).toMatchObject({ each: 'note', xpath: '.' });
    expect(ruleOf(row({ repeated: true }), { path: 'a', each: 'note', xpath: '.' }, '"once')).toMatchObject({
      each: undefined,
      text: 'once',
    });
    expect(ruleOf(row({}), { path: 'a', whenEmpty: 'KEEP', text: 'old' }, 'new')).toEqual({
      path: 'a',
      whenEmpty: 'KEEP',
      text: undefined,
      xpath: 'new',
    });
    expect(typedIn(row({ repeated: true }), { path: 'a', each: 'note', xpath: '.' })).toBe('note');
  });
  it('replaces the rule of its row, and an empty one removes it', () => {
    const rules = [
      { path: 'a', xpath: 'x' },
      { path: 'b', xpath: 'y' },
    ];
    expect(merged(rules, { path: 'a', xpath: 'z' })).toEqual([
      { path: 'b', xpath: 'y' },
      { path: 'a', xpath: 'z' },
    ]);
    expect(merged(rules, { path: 'a', xpath: undefined, text: undefined })).toEqual([{ path: 'b', xpath: 'y' }]);
    expect(merged(rules, { path: 'a', kind: '{urn:t}Bulk' })).toHaveLength(2);
    expect(merged(rules, { path: 'c', text: '' })).toHaveLength(3);
  });
});

describe('completion', () => {
  it('finds letters in their order and prefers dense ones', () => {
    expect(fuzzy('dm', 'draft_m')).toBeGreaterThan(0);
    expect(fuzzy('md', 'draft_m')).toBe(-1);
    expect(fuzzy('dra', 'draft_m')).toBeGreaterThan(fuzzy('dra', 'dock_reference_a'));
  });
});

it('stays taken as it is when what is repeated over changes', () => {
  const items = row({ repeated: true, hasText: false });
  expect(ruleOf(items, { path: 'a', each: 'x', xpath: '.' }, 'y')).toMatchObject({ each: 'y', xpath: '.' });
  expect(ruleOf(items, undefined, 'y').xpath).toBeUndefined();
  expect(ruleOf(items, { path: 'a', each: 'x', xpath: '.' }, '').xpath).toBeFalsy();
});

describe('what is suggested', () => {
  const rows = [
    { path: 'F/cargo', repeated: true, hasText: false },
    { path: 'F/cargo/tonnes', repeated: false, hasText: true },
    { path: 'F/vessel', repeated: false, hasText: true },
  ] as ShapeRow[];
  const suggestions = [
    { path: 'F/cargo', xpath: 'line', score: 0.5, reason: '' },
    { path: 'F/cargo/tonnes', xpath: 'tonnes', score: 1, reason: '' },
  ];
  it('is taken with the repeats around it, and overwrites nothing', () => {
    const taken = accepted('F/cargo/tonnes', [], suggestions, rows);
    expect(taken.map((r) => [r.path, r.each ?? r.xpath])).toEqual([
      ['F/cargo', 'line'],
      ['F/cargo/tonnes', 'tonnes'],
    ]);
    const mine = [{ path: 'F/cargo', each: 'other' }];
    expect(accepted('F/cargo/tonnes', mine, suggestions, rows)[0]).toEqual(mine[0]);
    expect(accepted('F/vessel', [], suggestions, rows)).toEqual([]);
  });
});
