import { expect, test } from 'vitest';
import type { FlowView, Waiting } from '../api/types';
import { answeredOf, fieldsOf, ofStep, partsOf, toSend } from './tray';

const waiting = (number: number, more: Partial<Waiting> = {}): Waiting => ({
  number,
  step: 's1',
  path: 's1',
  half: false,
  code: 'draught does not fit',
  reason: 'draught does not fit',
  inDoubt: false,
  records: 1,
  isSending: false,
  answered: 0,
  nested: false,
  record: { port: 'TLWRC', draft_m: 'deep' },
  ...more,
});

test('what was mended is sent, unless something else is chosen', () => {
  const records = [waiting(1), waiting(2, { original: { draft_m: 'deep' } }), waiting(3)];
  expect(toSend(records, new Set())).toEqual([2]);
  expect(toSend(records, new Set([3, 1]))).toEqual([3, 1]);
  expect(toSend([], new Set())).toEqual([]);
});

test('a record in doubt is sent only when it is chosen, though it was mended', () => {
  const records = [waiting(1, { inDoubt: true, original: { draft_m: 'deep' } })];
  expect(toSend(records, new Set())).toEqual([]);
  expect(toSend(records, new Set([1]))).toEqual([1]);
});

test('only answered calls of what is sent are told of', () => {
  const records = [waiting(1, { answered: 2 }), waiting(2, { answered: 1 }), waiting(3)];
  expect(answeredOf(records, [1, 3])).toBe(2);
  expect(answeredOf(records, [])).toBe(0);
});

test('one step or all', () => {
  const records = [waiting(1), waiting(2, { step: 's3' })];
  expect(ofStep(records, 's3').map((r) => r.number)).toEqual([2]);
  expect(ofStep(records).length).toBe(2);
  expect(ofStep(undefined, 's1')).toEqual([]);
});

test('fields that have to be mended come first, and only those that the records have', () => {
  const flow = {
    definition: {
      steps: [{ id: 's2', kind: 'call', fill: [{ path: 'Ask/draught', xpath: 'number(draft_m) + other_m' }] }],
    },
  } as unknown as FlowView;
  const reasons = [{ code: 'draught does not fit', step: 's1', count: 2, inDoubt: false }];
  expect(fieldsOf([waiting(1)], reasons, flow)).toEqual(['draft_m', 'port']);
  expect(fieldsOf([waiting(1)], reasons)).toEqual(['port', 'draft_m']);
  expect(fieldsOf([], reasons, flow)).toEqual([]);
});

test('a path tells its parts', () => {
  expect(partsOf('s2')).toBe('');
  expect(partsOf('s4[12]/s6[2]/s7')).toBe('part 12, part 2');
});
