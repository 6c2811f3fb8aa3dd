import type { Flow, Step } from '../api/types';

/** Edits of a flow, each a function of the document there is when it happens. Steps are named by their id. */
type Omitted<T> = T extends unknown ? Omit<T, 'id'> : never;
/** A step that has no id yet. */
export type NewStep = Omitted<Step>;

export function freshId(flow: Flow): string {
  const taken = new Set(flow.steps.map((s) => s.id));
  let n = flow.steps.length + 1;
  while (taken.has(`s${n}`)) n++;
  return `s${n}`;
}

/** A step that is gone meanwhile stays gone. */
export const changeStep = (flow: Flow, id: string, change: (s: Step) => Step): Flow => ({
  ...flow,
  steps: flow.steps.map((s) => (s.id === id ? { ...change(s), id } : s)),
});

export const removeStep = (flow: Flow, id: string): Flow => ({ ...flow, steps: flow.steps.filter((s) => s.id !== id) });

/** @param after the id of the step it comes after; at the end when there is none. */
export function addStep(flow: Flow, step: NewStep, after: string | undefined): Flow {
  const at = flow.steps.findIndex((s) => s.id === after);
  const steps = [...flow.steps];
  steps.splice(at < 0 ? steps.length : at + 1, 0, { ...step, id: freshId(flow) });
  return { ...flow, steps };
}
