import { describe, expect, it } from 'vitest';
import type { Field, Tree } from '../api/types';
import { cellText, columnsOf, nodesAt } from './columns';

const field = (name: string, more: Partial<Field> = {}) => ({ name, label: name, type: 'string', ...more });

describe('columns of records', () => {
  it('are the fields, those inside of one under their way, and one of what repeats', () => {
    const fields = [
      field('no'),
      field('place', { type: 'nested', fields: [field('berth'), field('at', { fields: [field('@unit')] })] }),
      field('line', { type: 'nested', many: true, fields: [field('goods')] }),
    ];
    expect(columnsOf(fields).map((c) => c.label)).toEqual(['no', 'place/berth', 'place/at', 'place/at/@unit', 'line']);
  });
  it('show a value, several, or how many there are', () => {
    const record: Tree = {
      name: 'record',
      children: [
        { name: 'hold', text: '1' },
        { name: 'hold', text: '2' },
        { name: 'line', children: [{ name: 'goods', text: 'Barley' }] },
        { name: 'note', text: '' },
      ],
    };
    expect(cellText(nodesAt(record, ['hold']))).toBe('1, 2');
    expect(cellText(nodesAt(record, ['line']))).toBe('1 ×');
    expect(cellText(nodesAt(record, ['line', 'goods']))).toBe('Barley');
    expect(cellText(nodesAt(record, ['note']))).toBeUndefined();
    expect(cellText(nodesAt(record, ['none']))).toBeUndefined();
  });
});
