import { describe, expect, it } from 'vitest';
import { apart, changed, inEnvironment, isApart, isUsed, toKeep, together, type Edited } from './settings';

const two: Edited = {
  common: { parallel: 8, retries: 1 },
  environments: [
    { name: 'test', settings: { url: 'http://a/' } },
    { name: 'live', settings: { url: 'http://b/', retries: 3 } },
  ],
};

describe('settings of a connection', () => {
  it('count for all, unless an environment says otherwise', () => {
    expect(inEnvironment(two, 'test').retries).toBe(1);
    expect(inEnvironment(two, 'live').retries).toBe(3);
    expect(isApart(two, ['parallel'])).toBe(false);
    expect(isApart(two, ['retries'])).toBe(true);
    expect(isUsed(two, ['proxy'])).toBe(false);
    expect(isUsed(two, ['parallel'])).toBe(true);
  });

  it('are taken apart with the value there is, and put together with the first one’s', () => {
    const split = apart(two, ['parallel']);
    expect(split.common.parallel).toBeUndefined();
    expect(split.environments.map((x) => x.settings.parallel)).toEqual([8, 8]);
    const one = together(changed(split, 1, { parallel: 2 }), ['parallel']);
    expect(one.common.parallel).toBe(8);
    expect(one.environments.some((x) => 'parallel' in x.settings)).toBe(false);
    expect(apart(two, ['retries']).environments.map((x) => x.settings.retries)).toEqual([1, 3]);
  });

  it('lose what is taken away, and environments about which nothing is said', () => {
    const changing = changed(changed(two, undefined, { parallel: undefined }), 1, {
      url: undefined,
      retries: undefined,
    });
    expect(
      toKeep({ ...changing, environments: [...changing.environments, { name: ' ', settings: { url: 'x' } }] }),
    ).toEqual({ settings: { retries: 1 }, environments: { test: { url: 'http://a/' } } });
  });
});
