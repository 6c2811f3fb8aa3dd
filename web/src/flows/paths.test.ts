import { describe, expect, it } from 'vitest';
import type { Tree } from '../api/types';
import { columnName, elements, guess, leaves, plain, relative, resolve } from './paths';

const answer: Tree = { name: 'Reply', children: [{ name: 'window', children: [{ name: '@ref', text: 'W1' }, { name: 'opensAt', text: '2031-04-02T21:55:00' },
  { name: 'slot', children: [{ name: 'berth', text: 'E4' }] }, { name: 'slot', children: [{ name: 'berth', text: 'E7' }] }] }, { name: 'note', text: 'a' }, { name: 'note', text: 'b' }] };

describe('paths in an answer', () => {
  it('lead from one element to another', () => {
    expect(relative('window/slot', 'window/slot/berth')).toBe('berth');
    expect(relative('window/slot', 'window/opensAt')).toBe('../opensAt');
    expect(relative('window/slot', 'note')).toBe('../../note');
    expect(relative('', 'window/opensAt')).toBe('window/opensAt');
    expect(relative('window', 'window')).toBe('.');
  });
  it('are resolved back, unless they are more than a path', () => {
    expect(resolve('window/slot', '../opensAt')).toBe('window/opensAt');
    expect(resolve('window', '@ref')).toBe('window/@ref');
    expect(resolve('', 'note')).toBe('note');
    expect(resolve('window', 'upper-case(opensAt)')).toBeNull();
    for (const to of ['window/opensAt', 'window/slot/berth', 'note']) expect(resolve('window/slot', relative('window/slot', to))).toBe(to);
  });
  it('know which elements repeat', () => {
    expect(elements(answer)).toEqual([{ path: 'window', repeats: false }, { path: 'window/slot', repeats: true }, { path: 'note', repeats: true }]);
    expect(leaves(answer).map((l) => l.path)).toEqual(['window/@ref', 'window/opensAt', 'window/slot/berth', 'note']);
    expect(plain('window/slot[2]/berth')).toBe('window/slot/berth');
  });
});

describe('columns', () => {
  it('get names and types from what they hold', () => {
    expect(columnName('window/opensAt', [])).toBe('opens_at');
    expect(columnName('window/@ref', [{ name: 'ref' }, { name: 'ref_2' }])).toBe('ref_3');
    expect(['2031-04-02T21:55:00', '2031-04-02', '7', '7.5', 'true', 'E4', '007', undefined].map(guess)).toEqual(['dateTime', 'date', 'integer', 'decimal', 'boolean', 'string', 'string', 'string']);
  });
});
