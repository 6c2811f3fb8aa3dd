import { useLayoutEffect, useMemo, useRef } from 'react';

/** The same functions in every render, which do what the latest ones would do; for parts that are costly to redraw. */
export function useStable<T extends { [K in keyof T]: (...args: never[]) => void }>(acts: T): T {
  const latest = useRef(acts);
  useLayoutEffect(() => {
    latest.current = acts;
  });
  return useMemo(() => {
    const call =
      (name: keyof T) =>
      (...args: never[]) =>
        latest.current[name](...args);
    // The ref is read when one of them is called, not while rendering.
    // eslint-disable-next-line react-hooks/refs
    return Object.fromEntries((Object.keys(latest.current) as (keyof T)[]).map((n) => [n, call(n)])) as unknown as T;
  }, []);
}
