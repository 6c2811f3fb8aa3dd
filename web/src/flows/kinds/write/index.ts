import type { StepKind } from '../kind';
import { rowsBefore } from './rows';
import { WritePanel } from './WritePanel';

export const write: StepKind<'write'> = {
  kind: 'write',
  about: 'results to a target',
  fresh: { kind: 'write' },
  freshAfter: (before) => ({ kind: 'write', from: rowsBefore(before) }),
  title: (s) => s.target ?? 'choose a target',
  note: (s) => [s.from && `from ${s.from}`, s.unlessEqual && 'what is other'].filter(Boolean).join(', ') || undefined,
  isOpen: (s) => !s.target,
  Panel: WritePanel,
};
