import type { Rule } from '../../api/types';

type Kinds = NonNullable<Rule['kinds']>;

/** A kind as people read it. */
export const kindWord = (id: string) => id.slice(id.lastIndexOf('}') + 1) || 'as declared';

/** The kinds with one of them changed. */
export const withKind = (kinds: Kinds, at: number, to: Kinds[number]): Kinds =>
  kinds.map((k, i) => (i === at ? to : k));

/** From one kind to several by rule: the one there is comes first. */
export const byRule = (rule: Rule | undefined, first: string | undefined): Kinds => [
  { kind: rule?.kind ?? first ?? '' },
];
