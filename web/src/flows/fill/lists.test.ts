import { describe, expect, it } from 'vitest';
import { asLines, firstOf, fromLines } from './lists';

describe('a list written down', () => {
  it('has an entry a line, the first equals sign between', () => {
    const entries = fromLines('KX = perishable\n\nST=standard\nnothing\n = none\na = b = c');
    expect(entries).toEqual([
      { from: 'KX', to: 'perishable' },
      { from: 'ST', to: 'standard' },
      { from: 'a', to: 'b = c' },
    ]);
    expect(fromLines(asLines(entries))).toEqual(entries);
    expect(asLines(undefined)).toBe('');
  });
  it('from a source begins with its first two fields', () => {
    expect(firstOf('codes', [{ name: 'code' }, { name: 'priority' }])).toEqual({
      source: 'codes',
      key: 'code',
      value: 'priority',
    });
    expect(firstOf('one', [{ name: 'code' }]).value).toBe('code');
  });
});
