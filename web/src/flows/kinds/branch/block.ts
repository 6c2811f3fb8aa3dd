import type { Block } from '../block';

export const branch: Block<'branch'> = {
  inside: (s) => [
    ...s.arms.map((a, i) => ({ name: `arms/${i}`, title: `when ${a.when ?? ''}`, steps: a.steps })),
    { name: 'otherwise', title: 'otherwise', steps: s.otherwise },
  ],
  around: (s, lists) => ({
    ...s,
    arms: s.arms.map((a, i) => ({ ...a, steps: lists[i] })),
    otherwise: lists[s.arms.length] ?? [],
  }),
  wrapping: (steps) => ({ kind: 'branch', arms: [{ steps }], otherwise: [] }),
};
