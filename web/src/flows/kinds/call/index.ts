import type { StepKind } from '../kind';
import { CallPanel } from './CallPanel';

export const call: StepKind<'call'> = {
  kind: 'call',
  about: 'an operation for each record',
  fresh: { kind: 'call', fill: [] },
  title: (s) => (s.operation ? `${s.contract} · ${s.operation}` : 'choose an operation'),
  note: (s) => [s.as && `$${s.as}`, s.once && 'once a run'].filter(Boolean).join(' ') || undefined,
  isOpen: (s) => !s.operation,
  Panel: CallPanel,
};
