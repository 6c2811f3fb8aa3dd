import type { Group } from '../cells/cell';

/** A kind of connection as the pages know it. A new one is a folder here and its line in the registry. */
export interface ConnectionKind {
  kind: string;
  /** What it leads to, for a list. */
  short: string;
  /** The same, to choose from. */
  label: string;
  /** What a probe of it does. */
  probe: string;
  /** Its settings, in the order of the page. */
  groups: Group[];
}
