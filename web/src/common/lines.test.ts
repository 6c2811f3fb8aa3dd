import { describe, expect, it } from 'vitest';
import { otherLines } from './lines';

const other = (now: string, before: string) => [...otherLines(now.split(''), before.split(''))];

describe('lines that another text does not have', () => {
  it('are found between those in common', () => {
    expect(other('abcd', 'abcd')).toEqual([]);
    expect(other('abXd', 'abcd')).toEqual([2]);
    expect(other('aXbYc', 'abc')).toEqual([1, 3]);
    expect(other('ac', 'abc')).toEqual([]);
    expect(other('abc', '')).toEqual([0, 1, 2]);
    expect(other('', 'abc')).toEqual([]);
  });
  it('are all of a stretch that is too long to be compared', () => {
    const long = Array.from({ length: 3_000 }, (_, i) => `a${i}`);
    expect(otherLines([...long, 'x'], [...long.map((l) => `${l}!`), 'x']).size).toBe(3_000);
  });
});
