import { describe, expect, it } from 'vitest';
import type { Rule, Tree } from '../../api/types';
import { eachAround, itemNames } from './itemNames';

const leaf = (name: string, text: string): Tree => ({ name, text });
const NAMES: Tree = {
  name: 'record',
  children: [
    leaf('no', 'TR-1'),
    { name: 'line', children: [leaf('goods', ''), { name: 'hold', children: [leaf('n', '1')] }] },
    { name: 'line', children: [leaf('goods', 'Oats'), leaf('box', 'A1')] },
    { name: '$filed', children: [{ name: 'cargo', children: [leaf('tonnes', '3')] }] },
  ],
};
const names = (each: string[]) => itemNames(NAMES, each)?.children?.map((c) => c.name);

describe('names inside of a repeat', () => {
  it('are those of an item first, of all items there are', () => {
    expect(names(["line[state != 'void']"])).toEqual(['goods', 'hold', 'box', '$record', '$filed']);
    expect(names(['sort(line[box], (), function($item) { $item/(goods) })'])).toEqual(names(['line']));
    expect(itemNames(NAMES, ['line'])?.children?.[0].text).toBe('Oats');
    expect(names(['$record/line'])?.[0]).toBe('goods');
    expect(names(['$filed/cargo'])?.[0]).toBe('tonnes');
  });
  it('go inwards with nested repeats', () => {
    expect(names(['line', 'hold'])?.[0]).toBe('n');
  });
  it('are only those with a variable where the repeat is more than a path', () => {
    expect(names(['sort(line)'])).toEqual(['$record', '$filed']);
    expect(itemNames(NAMES, [])).toBe(NAMES);
  });
  it('follow the repeats around a row', () => {
    const rules = new Map<string, Rule>([
      ['F/cargo', { path: 'F/cargo', each: 'line' }],
      ['F/cargo/hold', { path: 'F/cargo/hold', each: 'hold' }],
    ]);
    expect(eachAround('F/cargo/hold/n', rules)).toEqual(['line', 'hold']);
    expect(eachAround('F/cargo/hold', rules)).toEqual(['line']);
    expect(eachAround('F/vessel', rules)).toEqual([]);
  });
});
