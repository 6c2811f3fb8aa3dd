import { describe, expect, it } from 'vitest';
import { count, duration, millis, namesIn, plural } from './format';

describe('numbers', () => {
  it('are written for people', () => {
    expect(count(1234567)).toBe('1,234,567');
    expect(count(null)).toBe('–');
    expect(plural(1, 'record')).toBe('1 record');
    expect(plural(2, 'record')).toBe('2 records');
    expect(millis(4.25)).toBe('4.3 ms');
    expect(millis(2500)).toBe('2.5 s');
    expect(duration(401_000)).toBe('6 min 41 s');
    expect(duration(7_260_000)).toBe('2 h 1 min');
  });
});

describe('names in a line of XML', () => {
  it('are those of elements that begin there, and of their attributes, without prefixes', () => {
    expect(namesIn('<n1:cargo line="1" x:unit=\'t\'><tonnes>4</tonnes>')).toEqual(['cargo', 'line', 'unit', 'tonnes']);
    expect(namesIn('</cargo>')).toEqual([]);
    expect(namesIn('text = "quoted"')).toEqual([]);
    expect(namesIn('  "crew size": 9,')).toEqual(['crew size']);
    expect(namesIn('<ship.no-2/>')).toEqual(['ship.no-2']);
  });
});
