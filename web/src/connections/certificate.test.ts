import { describe, expect, it } from 'vitest';
import { agreement, daysLeft, grouped } from './certificate';

const SHA = '4C910E7BD25833A0F6198D42C7601BEE3A0607DCB4712F885DE3069ACF14627E';

describe('a fingerprint', () => {
  it('is shown in groups of four bytes', () => {
    expect(grouped(SHA).split('  ')).toHaveLength(8);
    expect(grouped(SHA)).toMatch(/^4C 91 0E 7B {2}D2 58 33 A0/);
  });

  it('agrees with one told with colons, in small letters, or as a tool prints it', () => {
    const colons = (SHA.match(/../g) ?? []).join(':');
    for (const told of [SHA, colons, colons.toLowerCase(), `sha256 Fingerprint=${colons}`])
      expect(agreement(SHA, told)).toEqual({ equal: 32, of: 32, isSame: true });
  });

  it('does not agree with a part, with more, or with another one', () => {
    expect(agreement(SHA, '')).toBeUndefined();
    expect(agreement(SHA, SHA.slice(0, 20))).toEqual({ equal: 10, of: 32, isSame: false });
    expect(agreement(SHA, `${SHA}00`)?.isSame).toBe(false);
    expect(agreement(SHA, SHA.replace('4C', '4D'))).toEqual({ equal: 31, of: 32, isSame: false });
  });

  it('counts whole days to an end, and tells one that has been', () => {
    const now = Date.parse('2031-04-02T10:00:00Z');
    expect(daysLeft({ until: '2031-04-03T09:00:00Z' }, now)).toBe(0);
    expect(daysLeft({ until: '2031-05-02T10:00:00Z' }, now)).toBe(30);
    expect(daysLeft({ until: '2031-04-02T09:00:00Z' }, now)).toBe(-1);
  });
});
