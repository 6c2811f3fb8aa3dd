import type { Step } from '../../api/types';
import { aside } from './aside';
import { attempt } from './attempt';
import { branch } from './branch';
import { call } from './call';
import { check } from './check';
import { document } from './document';
import { each } from './each';
import { flow } from './flow';
import { gather } from './gather';
import { join } from './join';
import { keep } from './keep';
import type { StepKind } from './kind';
import { log } from './log';
import { lookUp } from './look-up';
import { parse } from './parse';
import { pick } from './pick';
import { query } from './query';
import { read } from './read';
import { receive } from './receive';
import { reply } from './reply';
import { set } from './set';
import { shape } from './shape';
import { total } from './total';
import { transform } from './transform';
import { wait } from './wait';
import { write } from './write';

/** The kinds of steps, in the order in which they are offered. */
const KINDS = {
  read,
  receive,
  call,
  pick,
  write,
  each,
  branch,
  attempt,
  gather,
  check,
  shape,
  'look-up': lookUp,
  join,
  query,
  parse,
  document,
  transform,
  set,
  total,
  keep,
  flow,
  reply,
  log,
  aside,
  wait,
} satisfies { [K in Step['kind']]: StepKind<K> };

/** The kind of a step. Each kind only ever gets its own steps, which the type cannot say. */
export const kindOf = (step: Step) => KINDS[step.kind] as unknown as StepKind;
export const kinds = Object.values(KINDS) as unknown as StepKind[];
