import type { Flow } from '../api/types';
import { count } from '../common/format';
import { allSteps, isInEach } from './tree';

/** Fewer calls than this are made in a live environment without asking. */
const FEW_CALLS = 50;

/** How many call steps a flow has: made for each record, for each part of one, and once a run. */
export function callsOf(flow: Flow) {
  const steps = allSteps(flow.steps).filter((s) => s.kind === 'call' && s.operation && !s.off);
  const once = steps.filter((s) => s.kind === 'call' && s.once).length;
  const inEach = steps.filter((s) => isInEach(flow, s.id)).length;
  return { steps: steps.length, once, inEach, each: steps.length - once - inEach };
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
  if (records * (each + inEach) <= FEW_CALLS) return undefined;
  const calls = count(records * (each + inEach));
  return inEach ? `${calls} calls or more, some for each part of a record,` : `${calls} calls`;
}
