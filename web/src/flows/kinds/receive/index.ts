import type { StepKind } from '../kind';
import { ReceivePanel } from './ReceivePanel';

export const receive: StepKind<'receive'> = {
  kind: 'receive',
  about: 'what a request, a message or another flow hands over',
  fresh: { kind: 'receive', inputs: [], samples: [] },
  title: (s) =>
    s.request
      ? `the request of ${s.request.contract} · ${s.request.operation}`
      : s.inputs?.length
        ? s.inputs.map((i) => i.name).join(', ')
        : 'what is handed over',
  isOpen: (s) => !s.request && !s.inputs?.length,
  Panel: ReceivePanel,
};
