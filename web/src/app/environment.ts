import { useSyncExternalStore } from 'react';

const KEY = 'wk.environment.1';
const listeners = new Set<() => void>();
let current = localStorage.getItem(KEY) ?? 'test';

export function setEnvironment(next: string) {
  current = next;
  localStorage.setItem(KEY, next);
  listeners.forEach((l) => l());
}

/** The environment that tries and runs go to, chosen at the top right. */
export const useEnvironment = () =>
  useSyncExternalStore(
    (l) => (listeners.add(l), () => listeners.delete(l)),
    () => current,
  );

/** Whether calls there are in earnest, as its name says. */
export const isLive = (environment: string) => /live|prod/i.test(environment);

/** What a deed that calls is named: where it is in earnest, its name says where. */
export const named = (deed: string, environment: string, joint = 'in') =>
  isLive(environment) ? `${deed} ${joint} ${environment}` : deed;
