import type { ComponentType } from 'react';
import type { Draft, SettingKey } from '../settings';

/** What a cell edits: the settings of all environments, or of one. */
export interface CellProps {
  settings: Draft;
  /** Values that are undefined are taken away. */
  set: (change: Draft) => void;
  /** For labels and ids: empty for all environments, otherwise `-` and the environment. */
  of: string;
  secrets: SecretDesk;
}

/** Secrets by name: those that are kept, and values that were typed and are to be kept. */
export interface SecretDesk {
  known: string[];
  typed: Record<string, string>;
  /** @param value undefined for nothing typed */
  type: (name: string, value: string | undefined) => void;
  /** A name for one that has none yet. */
  suggested: (what: string, of: string) => string;
}

/** A row of the table of settings. */
export interface Row {
  id: string;
  /** By the settings, where it depends on them. */
  label: string | ((s: Draft) => string);
  keys: readonly SettingKey[];
  Cell: ComponentType<CellProps>;
  /** Shown when nothing is said, too. */
  always?: boolean;
  /** Each environment has its own. */
  isApart?: boolean;
  /** What it is called among those that are not used; the label otherwise. */
  word?: string;
  /** Whether it means something beside the others. */
  when?: (s: Draft) => boolean;
}

export interface Group {
  title: string;
  hint?: string;
  rows: Row[];
}
