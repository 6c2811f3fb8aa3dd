import { describe, expect, it } from 'vitest';
import type { Flow, StepOf } from '../api/types';
import { addStep, changeStep, freshId, removeStep } from './edits';

const flow: Flow = {
  steps: [
    { id: 's1', kind: 'read', source: 'port_calls' },
    { id: 's2', kind: 'call', fill: [] },
    { id: 's4', kind: 'write' },
  ],
};

describe('edits of a flow', () => {
  it('reach their step wherever it has moved to meanwhile', () => {
    const moved = addStep(flow, { kind: 'check' }, 's1');
    const changed = changeStep(moved, 's2', (s) => ({ ...s, operation: 'GetTideWindow' }) as StepOf<'call'>);
    expect(changed.steps.map((s) => s.kind)).toEqual(['read', 'check', 'call', 'write']);
    expect(changed.steps[2]).toMatchObject({ id: 's2', operation: 'GetTideWindow' });
    expect(changed.steps[1]).not.toHaveProperty('operation');
  });
  it('leave a flow alone whose step is gone', () => {
    const gone = removeStep(flow, 's2');
    expect(changeStep(gone, 's2', (s) => ({ ...s, fill: [] }) as StepOf<'call'>)).toEqual(gone);
  });
  it('never give an id twice, nor let a change take one away', () => {
    expect(freshId(flow)).toBe('s5');
    const more = addStep(addStep(flow, { kind: 'check' }, 's2'), { kind: 'check' }, undefined);
    expect(new Set(more.steps.map((s) => s.id)).size).toBe(5);
    expect(changeStep(flow, 's1', () => ({ id: 'other', kind: 'read' })).steps[0].id).toBe('s1');
  });
});
