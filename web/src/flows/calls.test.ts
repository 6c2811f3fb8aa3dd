import { describe, expect, it } from 'vitest';
import type { Flow, Step } from '../api/types';
import { callsOf, manyCalls } from './calls';

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
    expect(manyCalls(flow(call('c1')), undefined)).toBe('as many calls as there are records');
    const each = { id: 'e', kind: 'each', over: '$record/a', steps: [call('c3')] } as unknown as Step;
    expect(manyCalls(flow(each), 1_200)).toContain('1,200 calls or more');
  });
});
