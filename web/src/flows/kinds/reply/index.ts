import type { StepKind } from '../kind';
import { ReplyPanel } from './ReplyPanel';

export const reply: StepKind<'reply'> = {
  kind: 'reply',
  about: 'answer whoever handed the record over',
  fresh: { kind: 'reply', columns: [] },
  title: (s) =>
    s.fill
      ? s.fault
        ? `the fault ${s.fault}`
        : 'the operation’s answer'
      : s.whole
        ? `the whole of ${s.from ?? '…'}`
        : s.columns?.length
          ? (s.from ?? 'one record')
          : 'choose what is answered',
  isOpen: (s) => !s.fill && (s.whole ? !s.from : !s.columns?.length),
  Panel: ReplyPanel,
};
