import type { StepKind } from '../kind';
import { CheckPanel } from './CheckPanel';

export const check: StepKind<'check'> = {
  kind: 'check',
  about: 'set a record aside unless a condition holds',
  fresh: { kind: 'check' },
  title: (s) => s.message || s.condition || 'write a condition',
  isOpen: (s) => !s.condition,
  Panel: CheckPanel,
};
