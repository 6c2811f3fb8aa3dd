import { describe, expect, it } from 'vitest';
import type { Flow, StepOf } from '../api/types';
import {
  addStep,
  asText,
  changeStep,
  duplicate,
  freshId,
  fromText,
  moved,
  paste,
  removeStep,
  switched,
  unwrap,
  wrap,
} from './edits';
import { allSteps, isInEach, placeOf } from './tree';

const flow: Flow = {
  format: 2,
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

const ids = (f: Flow) => allSteps(f.steps).map((s) => s.id);

describe('edits of blocks', () => {
  const wrapped = wrap(flow, 's2', 'each');
  it('put a block around a step and take it away again', () => {
    expect(ids(wrapped)).toEqual(['s1', 's5', 's2', 's4']);
    expect(placeOf(wrapped, 's2')).toMatchObject({ key: 's5/steps', at: 0 });
    expect(isInEach(wrapped, 's2')).toBe(true);
    expect(unwrap(wrapped, 's5')).toEqual(flow);
  });
  it('add into an arm, and after a step inside a block', () => {
    const branched = wrap(flow, 's2', 'branch');
    const block = ids(branched)[1];
    const otherwise = addStep(branched, { kind: 'log' }, `${block}/otherwise`);
    const added = ids(otherwise).at(-2) ?? '';
    expect(placeOf(otherwise, added)?.key).toBe(`${block}/otherwise`);
    const after = addStep(otherwise, { kind: 'set' }, 's2');
    expect(placeOf(after, 's2')?.list.map((s) => s.kind)).toEqual(['call', 'set']);
  });
  it('reach a step inside, and leave the rest the same object', () => {
    const changed = changeStep(wrapped, 's2', (s) => ({ ...s, off: true }));
    expect(allSteps(changed.steps).find((s) => s.id === 's2')?.off).toBe(true);
    expect(changed.steps[0]).toBe(wrapped.steps[0]);
  });
  it('duplicate and paste with all that is inside under ids of their own', () => {
    const twice = duplicate(wrapped, 's5');
    expect(ids(twice).length).toBe(6);
    expect(new Set(ids(twice)).size).toBe(6);
    const copied = fromText(asText(wrapped.steps[1]), ['each', 'call']);
    expect(new Set(ids(paste(wrapped, copied, 's4'))).size).toBe(6);
  });
  it('take only texts that hold steps of kinds there are', () => {
    expect(fromText('hello', ['call'])).toEqual([]);
    expect(fromText('{"steps":[{"kind":"fly"}]}', ['call'])).toEqual([]);
    expect(fromText('{"steps":7}', ['call'])).toEqual([]);
  });
  it('move among neighbours only, and switch off and on', () => {
    expect(ids(moved(flow, 's4', -1))).toEqual(['s1', 's4', 's2']);
    expect(moved(flow, 's1', -1)).toEqual(flow);
    expect(switched(switched(flow, 's2'), 's2')).toEqual(flow);
  });
  it('remove a block with its steps', () => {
    expect(ids(removeStep(wrapped, 's5'))).toEqual(['s1', 's4']);
  });
});
