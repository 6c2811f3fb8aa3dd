import { useEffect, useState } from 'react';

/** A value once it has stayed the same for a while: what is costly is not computed for every letter. */
export function useRested<T>(value: T, millis: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const t = setTimeout(() => setRested(value), millis);
    return () => clearTimeout(t);
  }, [value, millis]);
  return rested;
}
