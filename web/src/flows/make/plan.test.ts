import { describe, expect, it } from 'vitest';
import type { FillView, ShapeRow } from '../../api/types';
import { row } from '../testing';
import { freeName } from '../../common/freeName';
import { firstFill, flowOf, keyed, pickOfAnswer, pickOfShape, repeats } from './plan';

const group = (path: string, more: Partial<ShapeRow> = {}) => row(path, { hasText: false, ...more });

const ANSWER = [
  group('Reply'),
  row('Reply/port', { type: 'string' }),
  group('Reply/window', { repeated: true }),
  row('Reply/window/opensAt', { type: 'xs:dateTime' }),
  row('Reply/window/depth', { type: 'xs:unsignedShort' }),
  group('Reply/window/slot', { repeated: true }),
  row('Reply/window/slot/berth', { type: 'string' }),
];

describe('the pick of a new flow', () => {
  it('offers what repeats, the outermost first', () => {
    expect(repeats(ANSWER).map((r) => r.path)).toEqual(['Reply/window', 'Reply/window/slot']);
  });
  it('takes the values of one record and of what it is in, and not what repeats inside it', () => {
    expect(pickOfShape(ANSWER, 'Reply/window')).toEqual({
      each: '$reply/window',
      columns: [
        { name: 'port', xpath: '../port', type: 'string' },
        { name: 'opens_at', xpath: 'opensAt', type: 'dateTime' },
        { name: 'depth', xpath: 'depth', type: 'integer' },
      ],
    });
    expect(pickOfShape(ANSWER, '').columns.map((c) => c.xpath)).toEqual(['$reply/port']);
    expect(pickOfShape(ANSWER, 'Reply/window/slot').columns.map((c) => c.xpath)).toEqual([
      '../../port',
      '../opensAt',
      '../depth',
      'berth',
    ]);
  });
  it('follows a real answer when there is one', () => {
    const answer = { name: 'Reply', children: [{ name: 'port', text: 'TLWRC' }] };
    const pick = pickOfAnswer(answer, undefined);
    expect(pick.columns).toEqual([{ name: 'port', xpath: '$reply/port', type: 'string' }]);
    const flow = flowOf({ source: 'port_calls', call: { contract: 'T', operation: 'G', fill: [] }, pick });
    expect(flow.steps.map((s) => s.id)).toEqual(['s1', 's2', 's3']);
  });
  it('is known by a field of the source, once', () => {
    const once = keyed([], 'call_ref');
    expect(once).toEqual([{ name: 'call_ref', xpath: '$record/call_ref', type: 'string' }]);
    expect(keyed(once, 'call_ref')).toBe(once);
    expect(keyed([], undefined)).toEqual([]);
  });
});

describe('the fill of a new flow', () => {
  const fill = (more: Partial<FillView>): FillView => ({
    rows: [],
    rowsKey: '0-0',
    becomes: {},
    problems: [],
    unfilled: [],
    envelope: '',
    validation: [],
    suggestions: [],
    ...more,
  });
  it('takes suggestions first, and what was typed on the Bench where there are none', () => {
    const typed = [
      { path: 'A/port', text: 'QUAYX' },
      { path: 'A/draught', text: '7.2' },
    ];
    const suggested = fill({ suggestions: [{ path: 'A/port', xpath: 'port', score: 1, reason: 'same name' }] });
    expect(firstFill(suggested, typed)).toEqual([
      { path: 'A/port', xpath: 'port' },
      { path: 'A/draught', text: '7.2' },
    ]);
  });
  it('takes the branch of a choice that a suggestion is in', () => {
    const rows = [group('A/choice', { kind: 'choice' }), row('A/choice/phone'), row('A/choice/email')];
    const suggested = fill({ rows, suggestions: [{ path: 'A/choice/email', xpath: 'agent_email' } as never] });
    expect(firstFill(suggested, [])).toContainEqual({ path: 'A/choice', branch: 'email' });
    expect(firstFill(fill({ rows }), [])).toEqual([]);
  });
});

describe('a new flow', () => {
  const call = { contract: 'TideDesk', operation: 'GetTideWindow', fill: [] };
  it('has the steps there is something for', () => {
    const whole = flowOf({ source: 'port_calls', call, pick: { columns: [] }, target: 'windows' });
    expect(whole.steps.map((s) => `${s.id} ${s.kind}`)).toEqual(['s1 read', 's2 call', 's3 pick', 's4 write']);
    expect(flowOf({ source: 'port_calls', call }).steps.map((s) => s.kind)).toEqual(['read', 'call']);
  });
  it('has a name that is free', () => {
    expect(freeName('GetTideWindow', [])).toBe('GetTideWindow');
    expect(freeName('GetTideWindow', ['GetTideWindow', 'GetTideWindow 2'])).toBe('GetTideWindow 3');
    expect(freeName('port_calls', ['port_calls'], '_')).toBe('port_calls_2');
  });
});
