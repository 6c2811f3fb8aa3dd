import { describe, expect, it } from 'vitest';
import type { Flow, Step } from '../api/types';
import { callsOf, manyCalls, recordsAt } from './calls';

const call = (id: string, more: Partial<Step> = {}) =>
  ({ id, kind: 'call', operation: 'Ask', fill: [], ...more }) as Step;
const flow = (...steps: Step[]) => ({ format: 2, steps }) as unknown as Flow;

describe('the calls of a flow', () => {
  it('are counted by how often they are made', () => {
    const each = { id: 'e', kind: 'each', over: '$record/a', steps: [call('c3')] } as unknown as Step;
    const all = flow(call('c1', { once: true }), call('c2'), each, call('c4', { off: true }));
    expect(callsOf(all)).toEqual({ steps: 3, once: 1, inEach: 1, each: 1 });
  });

  it('are few, many, or nobody knows how many', () => {
    expect(manyCalls(flow(), 1_000)).toBeUndefined();
    expect(manyCalls(flow(call('c1')), 50)).toBeUndefined();
    expect(manyCalls(flow(call('c1'), call('c2')), 26)).toBe('52 calls');
    expect(manyCalls(flow(call('c1', { shared: true })), 240)).toBe('at most 240 calls');
    expect(manyCalls(flow(call('c1')), undefined)).toBe('as many calls as there are records');
    const each = { id: 'e', kind: 'each', over: '$record/a', steps: [call('c3')] } as unknown as Step;
    expect(manyCalls(flow(each), 1_200)).toContain('1,200 calls or more');
  });

  it('after a gathering are as many as its groups', () => {
    const gather = (more: object) => ({ id: 'g', kind: 'gather', ...more }) as unknown as Step;
    const after = call('c2');
    expect(recordsAt(flow(call('c1'), gather({ most: 20 }), after), after, 240)).toBe(12);
    expect(recordsAt(flow(gather({}), after), after, 240)).toBe(1);
    expect(recordsAt(flow(gather({}), after), after, 0)).toBe(0);
    expect(recordsAt(flow(gather({ by: 'port' }), after), after, 240)).toBeUndefined();
    expect(recordsAt(flow(gather({ by: 'port', off: true }), after), after, 240)).toBe(240);
    expect(manyCalls(flow(gather({ most: 20 }), after), 240)).toBeUndefined();
    expect(manyCalls(flow(gather({ by: 'port' }), after), 240)).toBe('at most 240 calls');
    expect(manyCalls(flow(call('c1'), gather({ most: 20 }), after), 240)).toBe('252 calls');
  });
});
