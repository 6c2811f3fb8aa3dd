import type { Flow } from '../api/types';

/** What is looked at: a step of the flow as it is on screen, for one record of its source. */
export interface Where {
  flow: number;
  definition: Flow;
  step: number;
  environment: string;
  number: number;
  opened?: string[];
}

export const withStep = (w: Where, step: Flow['steps'][number]): Where => ({
  ...w,
  definition: { steps: w.definition.steps.map((s, i) => (i === w.step ? step : s)) },
});
