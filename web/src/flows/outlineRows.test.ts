import { describe, expect, it } from 'vitest';
import type { Flow, Step } from '../api/types';
import { outlineRows, seen, wire } from './outlineRows';

const flow = {
  format: 2,
  steps: [
    { id: 'r', kind: 'read' },
    {
      id: 'e',
      kind: 'each',
      collect: { as: 'all' },
      steps: [
        {
          id: 'b',
          kind: 'branch',
          arms: [{ when: 'x', steps: [{ id: 'c', kind: 'set' }] }],
          otherwise: [],
        },
      ],
    },
    { id: 'w', kind: 'write', off: true },
  ],
} as unknown as Flow;

const rows = seen(outlineRows(flow, (s: Step) => s.id));

describe('the outline', () => {
  it('has a row for each step, each arm with a title, and for what is collected', () => {
    expect(rows.map((r) => `${r.number} ${r.key} ${r.depth}`)).toEqual([
      '1 r 0',
      '2 e 0',
      '3 b 1',
      '3 b/arms/0 2',
      '4 c 2',
      '3 b/otherwise 2',
      '2 e/collect 1',
      '5 w 0',
    ]);
    expect(rows.at(-1)?.off).toBe(true);
  });
});

describe('the wire', () => {
  const counts: Record<string, number> = { r: 4, e: 4, 'e/steps': 9, b: 9, 'b/arms/0': 6, c: 6, 'b/otherwise': 3 };
  const lanes = wire(rows, (key) => counts[key] ?? null);
  const of = (key: string) => lanes[rows.findIndex((r) => r.key === key)];

  it('is dotted where the record waits for its parts', () => {
    expect(of('b').past).toEqual([{ lane: 0, dotted: true, count: null }]);
  });
  it('leaves into an arm from its block, and what takes another arm runs past', () => {
    expect(of('b/arms/0')).toMatchObject({ from: 1, leaves: 1, at: 2 });
    expect(of('c').past[1]).toEqual({ lane: 1, dotted: false, count: 3 });
  });
  it('comes back when blocks end', () => {
    expect(of('e/collect')).toMatchObject({ from: 2, at: 1, leaves: null });
    expect(of('e/collect').beside?.lane).toBe(1);
    expect(of('w')).toMatchObject({ from: 1, at: 0, ended: [] });
    const bare = wire(
      seen(rows).filter((r) => r.arm !== 'collect'),
      () => 1,
    );
    expect(bare.at(-1)?.ended.map((p) => p.lane)).toEqual([1]);
  });
});
