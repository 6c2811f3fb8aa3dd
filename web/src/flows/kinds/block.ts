import type { Step, StepOf } from '../../api/types';

/** One of the lists of steps inside a block. The title of a block's only list is empty. */
export interface Arm {
  name: string;
  title: string;
  steps: Step[];
}

/** What is inside a kind of step, for the outline and for edits. */
export interface Block<K extends Step['kind']> {
  inside: (step: StepOf<K>) => Arm[];
  /** The same block around other steps: one list for each arm, in the same order. */
  around: (step: StepOf<K>, lists: Step[][]) => StepOf<K>;
  /** What happens when all inside is through; counted as the arm of that name. */
  closing?: (step: StepOf<K>) => Arm | undefined;
  /** A new block with these steps in its first arm. */
  wrapping: (steps: Step[]) => Omit<StepOf<K>, 'id'>;
}
