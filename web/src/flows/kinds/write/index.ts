import type { StepKind } from '../kind';
import { WritePanel } from './WritePanel';

export const write: StepKind<'write'> = {
  kind: 'write',
  about: 'results to a target',
  fresh: { kind: 'write' },
  title: (s) => s.target ?? 'choose a target',
  isOpen: (s) => !s.target,
  Panel: WritePanel,
};
