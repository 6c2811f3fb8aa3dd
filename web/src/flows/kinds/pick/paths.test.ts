import { describe, expect, it } from 'vitest';
import type { Tree } from '../../../api/types';
import { DOCUMENT, JSON_TEXT } from '../../../common/embedded';
import {
  columnName,
  elements,
  expand,
  fromXPath,
  guess,
  leaves,
  placeWords,
  plain,
  relative,
  resolve,
  toXPath,
  withinTyped,
  xpathFrom,
} from './paths';

const answer: Tree = {
  name: 'Reply',
  children: [
    {
      name: 'window',
      children: [
        { name: '@ref', text: 'W1' },
        { name: 'opensAt', text: '2031-04-02T21:55:00' },
        { name: 'slot', children: [{ name: 'berth', text: 'E4' }] },
        { name: 'slot', children: [{ name: 'berth', text: 'E7' }] },
      ],
    },
    { name: 'note', text: 'a' },
    { name: 'note', text: 'b' },
  ],
};

const row = `Result/${DOCUMENT}/Bulletin/area`;

describe('documents in strings of an answer', () => {
  it('are parsed on the way', () => {
    expect(toXPath(`${row}/wind`)).toBe('parse-xml($reply/Result)/Bulletin/area/wind');
    expect(toXPath('window/slot')).toBe('$reply/window/slot');
    expect(toXPath(`a/${DOCUMENT}/b/${DOCUMENT}/c`)).toBe('parse-xml(parse-xml($reply/a)/b)/c');
  });
  it('are ticked below the element that a typed path ends with', () => {
    expect(withinTyped('parse-xml($reply/Result)//area', `${row}/wind`)).toBe('wind');
    expect(withinTyped('$reply//n:area[@id > 3]', `${row}/wind/@force`)).toBe('wind/@force');
    expect(withinTyped('$reply//gale', `${row}/wind`)).toBeNull();
    expect(withinTyped('for $i in 1 to 3 return $i', `${row}/wind`)).toBeNull();
  });
  it('are found again in an expression', () => {
    for (const path of [row, 'window/slot', `a/${DOCUMENT}/b/${DOCUMENT}/c`])
      expect(fromXPath(toXPath(path))).toBe(path);
    for (const other of [
      '$reply//slot',
      'parse-json($reply/x)?a?2',
      'parse-json($reply/x)?a[1]',
      'count($reply/x)',
      '$record/ref',
      '$reply/a[1]',
      'parse-xml($reply/a)//b',
      'parse-xml($reply/a)/b[1]',
    ])
      expect(fromXPath(other)).toBeNull();
  });
  it('are where records may be taken from, with fields from inside and from outside', () => {
    expect(xpathFrom(row, `${row}/wind`)).toBe('wind');
    expect(xpathFrom(row, `Result/${DOCUMENT}/Bulletin/@issued`)).toBe('../@issued');
    expect(xpathFrom(row, 'ref')).toBe('$reply/ref');
    expect(xpathFrom('line', `line/text/${DOCUMENT}/p/q`)).toBe('parse-xml(text)/p/q');
  });
});

describe('JSON in strings of an answer', () => {
  const text = '{"area":"Skarn","watches":[{"force":6,"sea state":[1,2]},{"force":4}]}';
  const opened = expand({ name: 'R', children: [{ name: 'Result', text }] });
  const item = `Result/${JSON_TEXT}/watches/*`;
  it('is looked up on the way, and found again', () => {
    expect(toXPath(`${item}/force`)).toBe('parse-json($reply/Result)?watches?*?force');
    expect(toXPath(`Result/${JSON_TEXT}/sea state`)).toBe('parse-json($reply/Result)?("sea state")');
    for (const path of [item, `${item}/force`, `Result/${JSON_TEXT}/sea state`])
      expect(fromXPath(toXPath(path))).toBe(path);
    expect(placeWords(item)).toBe('Result/watches');
  });
  it('has arrays whose items are records, seen as trees', () => {
    expect(elements(opened).filter((e) => e.repeats)).toEqual([
      { path: item, repeats: true },
      { path: `${item}/sea state/*`, repeats: true },
    ]);
    expect(xpathFrom(item, `${item}/force`)).toBe('force');
    expect(xpathFrom(item, `${item}/sea state/*`)).toBe('sea_x0020_state');
    expect(xpathFrom(item, `Result/${JSON_TEXT}/area`)).toBe('parse-json($reply/Result)?area');
    expect(leaves(opened, '', item).map((l) => l.path)).toContain(`${item}/force`);
  });
});

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
    for (const to of ['window/opensAt', 'window/slot/berth', 'note'])
      expect(resolve('window/slot', relative('window/slot', to))).toBe(to);
  });
  it('know which elements repeat', () => {
    expect(elements(answer)).toEqual([
      { path: 'window', repeats: false },
      { path: 'window/slot', repeats: true },
      { path: 'note', repeats: true },
    ]);
    expect(leaves(answer).map((l) => l.path)).toEqual(['window/@ref', 'window/opensAt', 'window/slot/berth', 'note']);
    const wind: Tree = {
      name: 'R',
      children: [{ name: 'wind', text: 'west', children: [{ name: '@force', text: '6' }] }],
    };
    expect(leaves(wind)).toEqual([
      { path: 'wind', text: 'west' },
      { path: 'wind/@force', text: '6' },
    ]);
    expect(plain('window/slot[2]/berth')).toBe('window/slot/berth');
  });
});

describe('columns', () => {
  it('get names and types from what they hold', () => {
    expect(columnName('window/opensAt', [])).toBe('opens_at');
    expect(columnName('window/@ref', [{ name: 'ref' }, { name: 'ref_2' }])).toBe('ref_3');
    expect(['2031-04-02T21:55:00', '2031-04-02', '7', '7.5', 'true', 'E4', '007', undefined].map(guess)).toEqual([
      'dateTime',
      'date',
      'integer',
      'decimal',
      'boolean',
      'string',
      'string',
      'string',
    ]);
  });
});
