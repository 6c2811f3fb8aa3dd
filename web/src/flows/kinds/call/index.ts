import type { StepKind } from '../kind';
import { CallPanel } from './CallPanel';

export const call: StepKind<'call'> = {
  kind: 'call',
  about: 'an operation for each record',
  fresh: { kind: 'call', fill: [] },
  title: (s) => (s.operation ? `${s.contract} · ${s.operation}` : 'choose an operation'),
  isOpen: (s) => !s.operation,
  Panel: CallPanel,
};
