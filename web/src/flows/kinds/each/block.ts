import type { Block } from '../block';

export const each: Block<'each'> = {
  inside: (s) => [{ name: 'steps', title: '', steps: s.steps }],
  around: (s, [steps]) => ({ ...s, steps }),
  closing: (s) => (s.collect ? { name: 'collect', title: `collect $${s.collect.as ?? ''}`, steps: [] } : undefined),
  wrapping: (steps) => ({ kind: 'each', steps }),
};
