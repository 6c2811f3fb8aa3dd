import type { Api } from '../api/types';

/** Settings while they are edited: of all environments, or of one. */
export type Draft = Partial<Api<'Settings'>>;
export type SettingKey = keyof Draft;

/** A connection's settings while they are edited: those of all environments, and what differs, in their order. */
export interface Edited {
  common: Draft;
  environments: { name: string; settings: Draft }[];
}

const without = (s: Draft, keys: readonly SettingKey[]): Draft =>
  Object.fromEntries(Object.entries(s).filter(([k, v]) => v !== undefined && !keys.includes(k as SettingKey)));

const only = (s: Draft, keys: readonly SettingKey[]): Draft =>
  Object.fromEntries(Object.entries(s).filter(([k, v]) => v !== undefined && keys.includes(k as SettingKey)));

const eachIn = (e: Edited, change: (s: Draft) => Draft): Edited['environments'] =>
  e.environments.map((x) => ({ ...x, settings: change(x.settings) }));

/** What counts in an environment. */
export const inEnvironment = (e: Edited, name: string): Draft => ({
  ...e.common,
  ...e.environments.find((x) => x.name === name)?.settings,
});

/** Whether environments have values of their own. */
export const isApart = (e: Edited, keys: readonly SettingKey[]) =>
  e.environments.some((x) => keys.some((k) => x.settings[k] !== undefined));

/** Whether something is said at all. */
export const isUsed = (e: Edited, keys: readonly SettingKey[]) =>
  isApart(e, keys) || keys.some((k) => e.common[k] !== undefined);

/** Each environment gets the value that all shared, to be changed there. */
export const apart = (e: Edited, keys: readonly SettingKey[]): Edited => ({
  common: without(e.common, keys),
  environments: eachIn(e, (s) => ({ ...only(e.common, keys), ...s })),
});

/** All share what the first environment has. */
export const together = (e: Edited, keys: readonly SettingKey[]): Edited => ({
  common: { ...without(e.common, keys), ...only(e.environments[0]?.settings ?? {}, keys) },
  environments: eachIn(e, (s) => without(s, keys)),
});

/** @param environment undefined for all. A value that is undefined is taken away. */
export const changed = (e: Edited, environment: number | undefined, change: Draft): Edited => {
  const merged = (s: Draft) => without({ ...s, ...change }, []);
  return environment === undefined
    ? { ...e, common: merged(e.common) }
    : {
        ...e,
        environments: e.environments.map((x, i) => (i === environment ? { ...x, settings: merged(x.settings) } : x)),
      };
};

/** Whether an environment has something worth keeping. */
const isSomething = (s: Draft) => Object.keys(s).length > 0;

/** As the server takes it: an environment without a name or without anything said is left out. */
export const toKeep = (e: Edited) => ({
  settings: e.common,
  environments: Object.fromEntries(
    e.environments.filter((x) => x.name.trim() && isSomething(x.settings)).map((x) => [x.name.trim(), x.settings]),
  ),
});
