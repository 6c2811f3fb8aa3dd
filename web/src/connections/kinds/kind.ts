import type { ComponentType } from 'react';
import type { ConnectionView } from '../../api/types';

/** Settings of a connection while they are edited. */
export type Draft = Partial<ConnectionView['settings']>;

export interface SettingsProps {
  settings: Draft;
  set: (change: (s: Draft) => Draft) => void;
}

/** A kind of connection as the pages know it. A new one is a folder here and its line in the registry. */
export interface ConnectionKind {
  kind: string;
  /** What it leads to, for a list. */
  short: string;
  /** The same, to choose from. */
  label: string;
  addressLabel: string;
  addressHint: string;
  userHint: string;
  /** Settings of its own, beside addresses and the log-in. */
  Settings?: ComponentType<SettingsProps>;
}
