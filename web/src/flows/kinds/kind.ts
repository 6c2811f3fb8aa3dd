import type { ComponentType } from 'react';
import type { Specimen, Step, StepOf } from '../../api/types';
import type { NewStep } from '../edits';
import type { Where } from '../where';

/** What a step's panel gets. */
export interface PanelProps<S extends Step = Step> {
  step: S;
  /** Changes the step as it is then; a change that comes late must not undo what came between. */
  edit: (change: (step: S) => S) => void;
  remove: () => void;
  where: Where;
  specimen?: Specimen;
  /** The record looked at. */
  setNumber: (n: number) => void;
  flowName: string;
  /** What is wrong with the step as a whole, in words. */
  problem?: string;
  /** Adds a step after it. */
  add: (step: NewStep) => void;
  /** Looks at another step. */
  goTo: (id: string) => void;
}

/** A kind of step as the pages know it. A new one is a folder here and its line in the registry. */
export interface StepKind<K extends Step['kind'] = Step['kind']> {
  kind: K;
  /** What it does, for who adds one. */
  about: string;
  /** A new step of the kind. */
  fresh: NewStep & { kind: K };
  /** A new step of the kind that comes after others: what it can take from them. */
  freshAfter?: (before: Step[]) => NewStep & { kind: K };
  title: (step: StepOf<K>) => string;
  /** What it names, or how it is done, beside the kind. */
  note?: (step: StepOf<K>) => string | undefined;
  /** Whether it still has to be filled in. */
  isOpen: (step: StepOf<K>) => boolean;
  Panel: ComponentType<PanelProps<StepOf<K>>>;
}
