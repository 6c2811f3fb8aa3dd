import type { Flow, Step } from '../api/types';
import { attempt } from './kinds/attempt/block';
import type { Arm, Block } from './kinds/block';
import { branch } from './kinds/branch/block';
import { each } from './kinds/each/block';

/** The tree of a flow's steps. A block gets only its own steps, which the type cannot say. */
const BLOCKS = { each, branch, attempt } as unknown as Partial<Record<Step['kind'], Block<Step['kind']>>>;

export const armsOf = (step: Step): Arm[] => BLOCKS[step.kind]?.inside(step) ?? [];
export const closingOf = (step: Step): Arm | undefined => BLOCKS[step.kind]?.closing?.(step);
export const isBlock = (step: Step) => step.kind in BLOCKS;
export const blockKinds = Object.keys(BLOCKS) as Step['kind'][];
export const wrapping = (kind: Step['kind'], steps: Step[]) => BLOCKS[kind]?.wrapping(steps) as Omit<Step, 'id'>;

/** All steps in the order of the outline: a block before what is inside. */
export const allSteps = (steps: Step[]): Step[] =>
  steps.flatMap((s) => [s, ...armsOf(s).flatMap((a) => allSteps(a.steps))]);

export const stepOf = (flow: Flow, id: string | undefined) => allSteps(flow.steps).find((s) => s.id === id);

/** Where a list of steps is: `''` for the flow's own, otherwise `id/arm`. */
export type ListKey = string;

/** The flow with every list replaced by what the function makes of it; what is inside comes first. */
export function mapLists(flow: Flow, change: (list: Step[], key: ListKey) => Step[]): Flow {
  const within = (list: Step[], key: ListKey): Step[] =>
    change(
      list.map((s) => {
        const arms = armsOf(s);
        if (!arms.length) return s;
        const lists = arms.map((a) => within(a.steps, `${s.id}/${a.name}`));
        return lists.every((l, i) => l === arms[i].steps) ? s : (BLOCKS[s.kind]?.around(s, lists) ?? s);
      }),
      key,
    );
  return { ...flow, steps: within(flow.steps, '') };
}

/** Which list a step is in, and where. */
export function placeOf(flow: Flow, id: string): { key: ListKey; at: number; list: Step[] } | undefined {
  let found: { key: ListKey; at: number; list: Step[] } | undefined;
  mapLists(flow, (list, key) => {
    const at = list.findIndex((s) => s.id === id);
    if (at >= 0) found = { key, at, list };
    return list;
  });
  return found;
}

/** Whether a step is worked once a part of something. */
export const isInEach = (flow: Flow, id: string): boolean =>
  allSteps(flow.steps).some((s) => s.kind === 'each' && allSteps(s.steps).some((x) => x.id === id));
