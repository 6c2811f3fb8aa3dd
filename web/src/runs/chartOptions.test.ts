import { describe, expect, it } from 'vitest';
import { latencyOption, rates } from './chartOptions';

const ink = { text: '', line: '', panel: '', ink: '', copper: 'copper', verdigris: '' };

describe('what a run’s charts show', () => {
  it('is the rate of even spans, with nothing lost', () => {
    const r = rates([
      { second: 0.4, records: 100 },
      { second: 0.9, records: 50 },
      { second: 2, records: 10 },
    ]);
    expect(r).toEqual([
      [0.5, 200],
      [1, 100],
      [1.5, 0],
      [2, 20],
    ]);
  });
  it('is at most sixty spans, however long a run took', () => {
    const r = rates([{ second: 3_600, records: 7_200 }]);
    expect(r).toHaveLength(60);
    expect(r.reduce((n, [, v]) => n + v * 60, 0)).toBeCloseTo(7_200);
  });
  it('is one span for a run that was over at once', () => {
    expect(rates([{ second: 0, records: 5 }])).toEqual([[0.5, 10]]);
  });
  it('marks the half of the calls that was faster', () => {
    const buckets = [1, 2, 4].map((upToMillis) => ({ upToMillis, calls: 3 }));
    const series = latencyOption(buckets, 2, ink).series as { data: { itemStyle: { opacity: number } }[] }[];
    expect(series[0].data.map((d) => d.itemStyle.opacity)).toEqual([0.85, 0.85, 0.45]);
  });
});
