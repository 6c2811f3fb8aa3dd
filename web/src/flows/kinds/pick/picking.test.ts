import { describe, expect, it } from 'vitest';
import type { StepOf, Tree } from '../../../api/types';
import {
  added,
  allCarried,
  carried,
  changed,
  identifying,
  kindsOf,
  linked,
  retyped,
  seenFrom,
  taken,
  ticked,
  withKind,
  withOneMore,
  withoutKind,
} from './picking';

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
    const once = ticked(empty, 'window/slot[2]/berth', { text: 'E7' });
    expect(once.columns).toEqual([{ name: 'berth', xpath: '$reply/window/slot/berth', type: 'string' }]);
    expect(ticked(once, 'window/slot/berth', { text: 'E4' }).columns).toEqual([]);
  });
  it('keeps the fields when one record becomes something else', () => {
    const each = seenFrom(ticked(empty, 'window/opensAt', { text: '2031-04-02T21:55:00' }), 'window/slot');
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

describe('several kinds of records of one answer', () => {
  const whole = taken(empty, answer);
  const two = withKind(withOneMore(whole), 1, (k) =>
    seenFrom(ticked(k, 'window/slot/berth', { text: 'E4' }), 'window/slot'),
  );
  it('have names and columns of their own', () => {
    expect(kindsOf(two).map((k) => [k.as, k.each])).toEqual([
      ['result', undefined],
      ['result_2', '$reply/window/slot'],
    ]);
    expect(kindsOf(two)[1].columns.map((c) => c.xpath)).toEqual(['berth']);
    expect(two.columns).toEqual(whole.columns);
  });
  it('go again, but for the last', () => {
    const second = withoutKind(two, 0);
    expect(kindsOf(second).map((k) => k.as)).toEqual(['result_2']);
    expect(withoutKind(second, 0)).toEqual(second);
    expect(second.also).toBeUndefined();
  });
  it('are linked by a key made of what tells one from another', () => {
    expect(identifying(kindsOf(two)[0], kindsOf(two)[1]).map((c) => c.name)).toEqual(['opens_at']);
    const link = linked(two, 1, 0, ['opens_at']);
    expect(link.columns[0]).toMatchObject({ name: 'result_id', xpath: 'wk:key($reply/window/opensAt)' });
    expect(link.also?.[0].columns[0].xpath).toBe('wk:key($reply/window/opensAt)');
    expect(linked(link, 1, 0, ['opens_at'])).toEqual(link);
    const each = seenFrom(ticked(empty, 'window/opensAt', { text: '' }), 'window');
    const inner = withKind(withOneMore(each), 1, (k) =>
      seenFrom(ticked(k, 'window/slot/berth', { text: '' }), 'window/slot'),
    );
    const keyed = linked(inner, 1, 0, ['opens_at']);
    expect(kindsOf(keyed).map((k) => k.columns[0].xpath)).toEqual(['wk:key(opensAt)', 'wk:key(../opensAt)']);
    // A slot's berth says nothing of its window.
    expect(identifying(kindsOf(inner)[1], kindsOf(inner)[0])).toEqual([]);
  });
  it('carry all that is left of the source at once', () => {
    const field = { name: 'gt', label: 'gt', type: 'integer' };
    const specimen = { number: 1, fields: [field, { ...field, name: 'eta' }, { ...field, name: 'lines', fields: [] }] };
    const all = allCarried(carried(empty, 'eta', specimen as never), specimen as never);
    expect(all.columns.map((c) => c.name)).toEqual(['eta', 'gt']);
  });
});
