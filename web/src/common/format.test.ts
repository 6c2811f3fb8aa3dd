import { describe, expect, it } from 'vitest';
import { count, duration, millis, namesIn, plural, pretty } from './format';

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

describe('laid-out XML', () => {
  it('has a line an element and keeps texts', () => {
    expect(pretty('<a><b>1 2</b><c/><d></d><e><f x="1">t</f></e></a>')).toBe(
      '<a>\n  <b>1 2</b>\n  <c/>\n  <d></d>\n  <e>\n    <f x="1">t</f>\n  </e>\n</a>',
    );
  });
  it('leaves what is no XML alone, and ends on broken XML', () => {
    expect(pretty('Service unavailable')).toBe('Service unavailable');
    expect(pretty('<a><b></a></b></c>')).toContain('<a>');
    expect(pretty('<?xml version="1.0"?>\n<a/>')).toBe('<?xml version="1.0"?>\n<a/>');
  });
});

describe('names in a line of XML', () => {
  it('are those of elements that begin there, and of their attributes, without prefixes', () => {
    expect(namesIn('<n1:cargo line="1" x:unit=\'t\'><tonnes>4</tonnes>')).toEqual(['cargo', 'line', 'unit', 'tonnes']);
    expect(namesIn('</cargo>')).toEqual([]);
    expect(namesIn('text = "quoted"')).toEqual([]);
    expect(namesIn('<ship.no-2/>')).toEqual(['ship.no-2']);
  });
});
