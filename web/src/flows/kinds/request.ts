import { seg } from '../../api/client';
import type { Flow, StepOf } from '../../api/types';
import { allSteps } from '../tree';

export type RequestOf = NonNullable<StepOf<'receive'>['request']>;

/** The operation whose request the flow receives; undefined for a flow with inputs of its own. */
export const requestOf = (flow: Flow): RequestOf | undefined =>
  allSteps(flow.steps).find((s): s is StepOf<'receive'> => s.kind === 'receive')?.request;

/** Where the operation is looked at. */
export const operationPath = (of: RequestOf) =>
  `/contracts/${seg(of.contract)}${of.port ? `/${seg(of.port)}/${seg(of.operation)}` : ''}`;
