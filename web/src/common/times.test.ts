import { describe, expect, it } from 'vitest';
import { timesOf } from './times';

const WAY = { queueMicros: 3, nameMicros: 900, connectMicros: 400, tlsMicros: 5000, attempts: 1 };

describe('the time of a call', () => {
  it('is told in its parts, which are all of it', () => {
    const parts = timesOf(10_000, 700, WAY);
    expect(parts.map((p) => p.what)).toEqual(['name', 'connect', 'TLS', 'wait', 'read']);
    expect(parts.reduce((n, p) => n + p.micros, 0)).toBe(10_700 - WAY.queueMicros);
  });
  it('is in two parts where the way is not known', () => {
    expect(timesOf(10, 7).map((p) => p.micros)).toEqual([10, 7]);
  });
});
