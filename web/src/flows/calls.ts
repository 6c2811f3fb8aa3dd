import type { Flow, Step } from '../api/types';
import { count } from '../common/format';
import { allSteps, isInEach } from './tree';

/** Fewer calls than this are made in a live environment without asking. */
const FEW_CALLS = 50;

const isCall = (s: Step) => s.kind === 'call' && !!s.operation && !s.off;

/** How many call steps a flow has: made for each record, for each part of one, and once a run. */
export function callsOf(flow: Flow) {
  const steps = allSteps(flow.steps).filter(isCall);
  const once = steps.filter((s) => s.kind === 'call' && s.once).length;
  const inEach = steps.filter((s) => isInEach(flow, s.id)).length;
  return { steps: steps.length, once, inEach, each: steps.length - once - inEach };
}

/** Whether a call is not made where the run has the answer to an equal request. */
export const sharesAnswers = (flow: Flow) =>
  allSteps(flow.steps).some((s) => s.kind === 'call' && isCall(s) && s.shared && !s.once);

/**
 * How many records, or groups of them, come to a step outside of blocks; undefined where nobody knows.
 *
 * @param records that are read
 */
export function recordsAt(flow: Flow, step: Step, records: number | undefined): number | undefined {
  if (step.kind === 'call' && step.once) return 1;
  let n = records;
  for (const s of flow.steps) {
    if (s.id === step.id) return n;
    if (s.kind === 'gather' && !s.off) {
      if (s.by || n === undefined) n = undefined;
      else n = s.most ? Math.ceil(n / s.most) : Math.min(n, 1);
    }
  }
  return n;
}

/**
 * What is asked before a run: how many calls it makes in a live environment, in words; undefined when they are few.
 *
 * @param records undefined when nobody knows how many
 */
export function manyCalls(flow: Flow, records: number | undefined): string | undefined {
  const { each, inEach } = callsOf(flow);
  if (!each && !inEach) return undefined;
  if (records === undefined) return 'as many calls as there are records';
  let most = 0;
  for (const s of flow.steps) {
    // By a key there may be as many groups as there are records.
    const times = recordsAt(flow, s, records) ?? records;
    most += times * allSteps([s]).filter((x) => isCall(x) && !(x.kind === 'call' && x.once)).length;
  }
  if (most <= FEW_CALLS) return undefined;
  const isKeyed = flow.steps.some((s) => s.kind === 'gather' && s.by && !s.off);
  const calls = `${isKeyed || sharesAnswers(flow) ? 'at most ' : ''}${count(most)} calls`;
  return inEach ? `${count(most)} calls or more, some for each part of a record,` : calls;
}
