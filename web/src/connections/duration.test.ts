import { describe, expect, it } from 'vitest';
import { inWords, millisOf } from './duration';

describe('a length of time', () => {
  it.each([
    ['30 s', 30_000],
    ['30', 30_000],
    ['5min', 300_000],
    ['5 m', 300_000],
    ['2 H', 7_200_000],
    ['0,5 s', 500],
    ['250 ms', 250],
    ['soon', undefined],
    ['-1 s', undefined],
    ['', undefined],
  ])('is read from “%s”', (typed, millis) => expect(millisOf(typed)).toBe(millis));

  it.each([
    [30_000, '30 s'],
    [300_000, '5 min'],
    [7_200_000, '2 h'],
    [1_500, '1500 ms'],
    [90_000, '90 s'],
    [0, '0 ms'],
  ])('of %d ms is written', (millis, words) => expect(inWords(millis)).toBe(words));
});
