import { useAbout } from '../about';
import type { OperationView } from '../api/types';
import { useUses } from './queries';

/** Of more operations than these in a port, only those looked for are shown at first. */
const FEW_OPERATIONS = 12;

export interface Fold {
  isFirst: (o: OperationView) => boolean;
  isFolded: boolean;
  /** Shown all the same, since it is looked at. */
  keep?: OperationView;
}

/** Those in use or marked come first; the others may be folded. */
export function ranked(operations: OperationView[], { isFirst, isFolded, keep }: Fold): OperationView[] {
  const first = operations.filter(isFirst);
  const rest = operations.filter((o) => !first.includes(o));
  return [...first, ...rest.filter((o) => !isFolded || o.name === keep?.name)];
}

/** Whether a list is so long that those in use or marked stand for it, until all are wanted. */
export const isLong = (operations: OperationView[], isFirst: Fold['isFirst']) =>
  operations.length > FEW_OPERATIONS && operations.some(isFirst);

/** Whether an operation of a contract is used by a flow, or marked by a user. */
export function useFirst(contract: string | undefined): Fold['isFirst'] {
  const about = useAbout();
  const uses = useUses().data ?? [];
  return (o) =>
    about.of('operation', `${contract ?? ''}/${o.name}`).marked ||
    uses.some((u) => u.contract === contract && u.operation === o.name);
}

/** Whether a text is in an operation's name or documentation. */
export const fitsText = (o: OperationView, text: string) =>
  `${o.name} ${o.documentation ?? ''}`.toLowerCase().includes(text.trim().toLowerCase());
