import type { Rule } from '../../api/types';
import type { ShapeWish } from '../../contracts';

/** What is filled: a step's message or document, whatever the kind of the step. */
export interface Filling {
  what: 'message' | 'document';
  /** What of the step its fill depends on. */
  key: unknown[];
  /** Whether all is chosen that the fill needs. */
  isReady: boolean;
  rules: Rule[];
  /** How to ask for the kinds of a row. */
  wish: (kinds: Record<string, string>) => ShapeWish;
  /** Whose secrets may be named. */
  connection?: string;
  /** The operation whose kept test values may be taken. */
  values?: { contract?: string; operation?: string };
}

/** The kinds that are taken, by row. */
export const kindsTaken = (rules: Rule[]): Record<string, string> =>
  Object.fromEntries(rules.flatMap((r) => (r.kind ? [[r.path, r.kind]] : [])));
