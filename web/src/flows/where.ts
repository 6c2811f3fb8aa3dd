import type { Flow, Step } from '../api/types';
import { changeStep } from './edits';

/** What is looked at: a step of the flow as it is on screen, for one record of its source. */
export interface Where {
  flow: number;
  definition: Flow;
  /** Its id. */
  step: string;
  environment: string;
  /** Of the record, from 1. */
  number: number;
  opened?: string[];
}

export const withStep = (w: Where, step: Step): Where => ({
  ...w,
  definition: changeStep(w.definition, step.id, () => step),
});

/** The nearest step of a kind before, or at, the one looked at. */
export function nearest<K extends Step['kind']>(w: Where, kind: K, including = false) {
  const at = w.definition.steps.findIndex((s) => s.id === w.step);
  const before = w.definition.steps.slice(0, at + (including ? 1 : 0));
  return before.findLast((s): s is Extract<Step, { kind: K }> => s.kind === kind);
}
