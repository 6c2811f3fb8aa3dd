import { describe, expect, it } from 'vitest';
import { elements, leaves } from './paths';
import { proposed, shapeAt, shaped, taken } from './picking';
import { columnType, withPlaces } from './places';

const place = (path: string, more = {}) => ({
  path,
  isValue: true,
  repeats: false,
  declared: false,
  seen: 0,
  type: 'string',
  ...more,
});

const answer = { name: 'Tell', children: [{ name: 'window', children: [{ name: 'opens', text: '2031-04-02' }] }] };

describe('what is known of other answers', () => {
  const known = withPlaces(answer, [
    place('window', { isValue: false, repeats: true, declared: true }),
    place('window/opens', { type: 'date', seen: 4 }),
    place('window/closes', { type: 'unsignedShort', seen: 2 }),
    place('note/@lang', { declared: true }),
  ]);

  it('adds what this answer has not, and types', () => {
    expect(leaves(known).map((l) => [l.path, l.type, l.isUnseen ?? false])).toEqual([
      ['window/opens', 'date', false],
      ['window/closes', 'integer', true],
      ['note/@lang', 'string', true],
    ]);
  });

  it('knows what may repeat although it is here once', () => {
    expect(elements(known)).toContainEqual({ path: 'window', repeats: true });
  });

  it('takes all that was seen somewhere, and not what is only declared', () => {
    const step = taken({ kind: 'pick', columns: [], each: '$reply/window' } as never, known) as {
      columns: { xpath: string; type: string }[];
    };
    expect(step.columns.map((c) => [c.xpath, c.type])).toEqual([
      ['opens', 'date'],
      ['closes', 'integer'],
    ]);
  });

  it('has text where columns have no nearer type', () => {
    expect(['token', 'nonNegativeInteger', 'float', 'anyURI', 'time'].map(columnType)).toEqual([
      'string',
      'integer',
      'double',
      'string',
      'time',
    ]);
  });
});

describe('the shape of a string', () => {
  it('is kept with its place, and taken back', () => {
    const step = { id: 'p', kind: 'pick', columns: [] } as never;
    const with1 = shaped(step, 'window[2]/sheet', 'sheet');
    expect(with1.opened).toEqual([{ text: '$reply/window/sheet', shape: 'sheet' }]);
    expect(shapeAt(with1, 'window/sheet')).toBe('sheet');
    expect(shaped(with1, 'window/sheet', undefined).opened).toBeUndefined();
  });
});

describe('a type that all answers say', () => {
  const tried = { name: 'n', values: 3, blank: 0, longest: 2, lengths: [0, 1, 2], type: 'decimal', odd: 0 };

  it('is offered for text, with what makes it so', () => {
    expect(proposed({ name: 'n', xpath: 'n' }, tried)).toEqual({ type: 'decimal' });
    expect(proposed({ name: 'n', xpath: 'n' }, { ...tried, xpath: "wk:number(n, ',')" })).toEqual({
      type: 'decimal',
      xpath: "wk:number(n, ',')",
    });
  });

  it('is not offered where a type is chosen, or some values are of another', () => {
    expect(proposed({ name: 'n', xpath: 'n', type: 'integer' }, tried)).toBeNull();
    expect(proposed({ name: 'n', xpath: 'n' }, { ...tried, odd: 1 })).toBeNull();
    expect(proposed({ name: 'n', text: '1' }, tried)).toBeNull();
  });
});
