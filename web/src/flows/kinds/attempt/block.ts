import type { Api } from '../../../api/types';
import type { Block } from '../block';

const titleOf = (r: Api<'Rescue'>) =>
  `rescue ${r.codes?.length ? r.codes.join(', ') : 'any failure'}${r.when ? ` when ${r.when}` : ''}`;

export const attempt: Block<'attempt'> = {
  inside: (s) => [
    { name: 'steps', title: '', steps: s.steps },
    ...s.rescues.map((r, i) => ({ name: `rescues/${i}`, title: titleOf(r), steps: r.steps })),
  ],
  around: (s, lists) => ({
    ...s,
    steps: lists[0],
    rescues: s.rescues.map((r, i) => ({ ...r, steps: lists[i + 1] })),
  }),
  wrapping: (steps) => ({ kind: 'attempt', steps, rescues: [{ steps: [] }] }),
};
