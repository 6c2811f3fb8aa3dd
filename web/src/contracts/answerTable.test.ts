import { describe, expect, it } from 'vitest';
import type { Tree } from '../api/types';
import { rowPlaces, tableOf } from './answerTable';

const leaf = (name: string, text: string): Tree => ({ name, text });
const answer: Tree = {
  name: 'Answer',
  children: [
    leaf('ref', 'T1'),
    {
      name: 'window',
      children: [
        {
          name: 'slot',
          children: [leaf('@berth', 'E1'), { name: 'from', children: [leaf('day', '2'), leaf('hour', '3')] }],
        },
        { name: 'slot', children: [leaf('@berth', 'E4'), leaf('depth', '8'), leaf('depth', '9')] },
      ],
    },
  ],
};

describe('an answer as a table', () => {
  it('offers the repeated elements first, the whole answer last', () => {
    expect(rowPlaces(answer).map((p) => `${p.path} ${p.count}`)).toEqual([
      'window/slot 2',
      'window/slot/depth 2',
      'window 1',
      'window/slot/from 1',
      ' 1',
    ]);
  });
  it('has a column for each value, whichever row has it', () => {
    expect(tableOf(answer, 'window/slot')).toEqual({
      columns: ['@berth', 'from/day', 'from/hour', 'depth'],
      rows: [
        ['E1', '2', '3'],
        ['E4', undefined, undefined, '8, 9'],
      ],
    });
  });
  it('takes plain repeated values as rows of one column', () => {
    const names: Tree = { name: 'Names', children: [leaf('item', 'a'), leaf('item', 'b')] };
    expect(rowPlaces(names)[0]).toEqual({ path: 'item', count: 2 });
    expect(tableOf(names, 'item')).toEqual({ columns: ['item'], rows: [['a'], ['b']] });
  });
});
