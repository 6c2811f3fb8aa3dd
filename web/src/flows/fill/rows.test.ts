import { describe, expect, it } from 'vitest';
import type { Rule } from '../../api/types';
import { row } from '../testing';
import { filledWords, givenPaths, hiddenBranches, isGiven, lacking, nextOccurrence, without } from './rows';

const rule = (path: string): Rule => ({ path, xpath: 'x' });

describe('rows of a fill', () => {
  it('hide the branches of a choice that are not taken, with all inside', () => {
    const rows = [
      row('A/choice', { kind: 'choice' }),
      row('A/choice/mail'),
      row('A/choice/post'),
      row('A/choice/post/zip'),
    ];
    const taken = new Map([['A/choice', { path: 'A/choice', branch: 'mail' }]]);
    expect([...hiddenBranches(rows, taken)]).toEqual(['A/choice/post', 'A/choice/post/zip']);
    expect(hiddenBranches(rows, new Map()).size).toBe(0);
  });
  it('are given once more after the last occurrence there is', () => {
    expect(nextOccurrence('A/item', [])).toBe('A/item[2]');
    expect(nextOccurrence('A/item', [rule('A/item[2]/x'), rule('A/item[3]')])).toBe('A/item[4]');
    expect(nextOccurrence('A/item[2]', [rule('A/item[2]')])).toBe('A/item[3]');
    expect(nextOccurrence('A/item', [rule('A/items[7]')])).toBe('A/item[2]');
  });
  it('move up when one before them goes', () => {
    const rules = [rule('A/item/x'), rule('A/item[2]/x'), rule('A/item[3]/x'), rule('A/other')];
    expect(without('A/item[2]', rules).map((r) => r.path)).toEqual(['A/item/x', 'A/item[2]/x', 'A/other']);
    expect(without('A/item', rules).map((r) => r.path)).toEqual(['A/item[2]/x', 'A/item[3]/x', 'A/other']);
  });
  it('say what is filled, and not that an empty message is complete', () => {
    const rows = [row('A/x'), row('A/y'), row('A/z', { required: false })];
    expect(filledWords(rows, ['A/y'], [rule('A/x')])).toBe('1 / 2 required');
    expect(filledWords([row('A/z', { required: false })], [], [])).toBe('nothing required');
    expect(isGiven(row('A/item', { repeated: true }), [rule('A/item[2]/x')])).toBe(true);
    expect(isGiven(row('A/item', { repeated: true }), [rule('A/items')])).toBe(false);
  });
  it('name what they lack', () => {
    expect(lacking(['A/x'])).toBe('x is');
    expect(lacking(['A/x', 'A/y', 'A/z', 'A/w'])).toBe('x, y, z and 1 more are');
  });
  it('are given when a rule is at or inside them', () => {
    expect([...givenPaths([rule('A/item/x'), rule('A/item[2]/x'), rule('A/note')])].sort()).toEqual([
      'A',
      'A/item',
      'A/item/x',
      'A/item[2]',
      'A/item[2]/x',
      'A/note',
    ]);
    expect(givenPaths([]).size).toBe(0);
  });
});
