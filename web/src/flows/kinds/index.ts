import type { Step } from '../../api/types';
import { call } from './call';
import { check } from './check';
import type { StepKind } from './kind';
import { pick } from './pick';
import { read } from './read';
import { write } from './write';

/** The kinds of steps, in the order in which they are offered. */
const KINDS = { read, check, call, pick, write } satisfies { [K in Step['kind']]: StepKind<K> };

/** The kind of a step. Each kind only ever gets its own steps, which the type cannot say. */
export const kindOf = (step: Step) => KINDS[step.kind] as unknown as StepKind;
export const kinds = Object.values(KINDS) as unknown as StepKind[];
