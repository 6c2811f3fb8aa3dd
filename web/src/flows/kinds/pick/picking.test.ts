import { describe, expect, it } from 'vitest';
import type { StepOf, Tree } from '../../../api/types';
import { added, carried, changed, retyped, seenFrom, taken, ticked } from './picking';

const empty: StepOf<'pick'> = { id: 's3', kind: 'pick', columns: [] };
const answer: Tree = {
  name: 'Reply',
  children: [
    {
      name: 'window',
      children: [
        { name: '@href', text: '#id0' },
        { name: 'opensAt', text: '2031-04-02T21:55:00' },
        { name: 'slot', children: [{ name: 'berth', text: 'E4' }] },
        { name: 'slot', children: [{ name: 'berth', text: 'E7' }] },
      ],
    },
  ],
};

describe('picking', () => {
  it('takes a field, and leaves it out when it is taken again', () => {
    const once = ticked(empty, 'window/slot[2]/berth', 'E7');
    expect(once.columns).toEqual([{ name: 'berth', xpath: '$reply/window/slot/berth', type: 'string' }]);
    expect(ticked(once, 'window/slot/berth', 'E4').columns).toEqual([]);
  });
  it('keeps the fields when one record becomes something else', () => {
    const each = seenFrom(ticked(empty, 'window/opensAt', '2031-04-02T21:55:00'), 'window/slot');
    expect(each.each).toBe('$reply/window/slot');
    expect(each.columns[0].xpath).toBe('../opensAt');
    expect(seenFrom(each, '').columns[0].xpath).toBe('$reply/window/opensAt');
    expect(seenFrom(empty, '//slot').each).toBe('$reply//slot');
  });
  it('takes all without what repeats inside a record, and without artefacts of encoding', () => {
    expect(taken(empty, answer).columns.map((c) => c.xpath)).toEqual(['$reply/window/opensAt']);
    const slots = taken(seenFrom(empty, '$reply/window/slot'), answer);
    expect(slots.columns.map((c) => c.xpath)).toEqual(['../opensAt', 'berth']);
    expect(taken(slots, answer)).toEqual(slots);
  });
  it('carries source fields with their types, except those that have a pattern of their own', () => {
    const field = { name: 'gt', label: 'gt', type: 'integer' };
    const specimen = { number: 1, fields: [field, { ...field, name: 'eta', pattern: 'dd.MM.yyyy' }] };
    expect(carried(empty, 'gt', specimen as never).columns[0]).toMatchObject({ xpath: '$record/gt', type: 'integer' });
    expect(carried(empty, 'eta', specimen as never).columns[0].type).toBe('string');
  });
  it('has the time of the call in any type of date or time', () => {
    const now = { name: 'asked_at', xpath: 'current-dateTime()', type: 'dateTime' };
    expect(retyped(now, 'date').xpath).toBe('current-date()');
    expect(retyped(retyped(now, 'time'), 'dateTime').xpath).toBe('current-dateTime()');
    expect(retyped({ name: 'x', xpath: 'eta', type: 'string' }, 'date').xpath).toBe('eta');
  });
  it('changes a column by its place, and names no two alike', () => {
    const two = added(added(empty, 'value', { xpath: '' }), 'value', { xpath: '1' });
    expect(two.columns.map((c) => c.name)).toEqual(['value', 'value_2']);
    expect(changed(two, 0, () => null).columns.map((c) => c.name)).toEqual(['value_2']);
    expect(changed(two, 7, (c) => ({ ...c, name: 'x' }))).toEqual(two);
  });
});
