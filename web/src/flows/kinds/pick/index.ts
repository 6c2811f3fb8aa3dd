import type { StepKind } from '../kind';
import { PickPanel } from './PickPanel';

export const pick: StepKind<'pick'> = {
  kind: 'pick',
  about: 'result records out of the answer',
  fresh: { kind: 'pick', columns: [] },
  title: (s) => {
    if (s.columns.length === 0) return 'choose what a result is';
    return s.each ? `each ${s.each.replace(/^\$reply\//, '')}` : 'the whole answer';
  },
  note: (s) => `$${s.as ?? 'result'}`,
  isOpen: (s) => s.columns.length === 0,
  Panel: PickPanel,
};
