import type { StepKind } from '../kind';
import { ReadPanel } from './ReadPanel';

export const read: StepKind<'read'> = {
  kind: 'read',
  about: 'records from a source',
  fresh: { kind: 'read' },
  title: (s) => s.source ?? 'choose a source',
  isOpen: (s) => !s.source,
  Panel: ReadPanel,
};
