import type { Flow, Step } from '../api/types';
import { changeStep } from './edits';
import { allSteps } from './tree';

/** What is looked at: a step of the flow as it is on screen, for one record of its source. */
export interface Where {
  flow: number;
  definition: Flow;
  /** Its id. */
  step: string;
  environment: string;
  /** Of the record, from 1. */
  number: number;
  /** The how-manieth time the record comes to the step, from 1: inside an each it does so for each part. */
  part?: number;
  opened?: string[];
}

export const withStep = (w: Where, step: Step): Where => ({
  ...w,
  definition: changeStep(w.definition, step.id, () => step),
});

/** The steps before the one looked at, in the order of the outline. */
export function before(w: Where, including = false): Step[] {
  const all = allSteps(w.definition.steps);
  return all.slice(0, all.findIndex((s) => s.id === w.step) + (including ? 1 : 0));
}

/** The nearest step of a kind before, or at, the one looked at. */
export const nearest = <K extends Step['kind']>(w: Where, kind: K, including = false) =>
  before(w, including).findLast((s): s is Extract<Step, { kind: K }> => s.kind === kind);
