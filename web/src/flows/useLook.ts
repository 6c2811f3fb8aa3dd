import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Step } from '../api/types';
import { kindOf } from './kinds';

/**
 * Which step and which record are looked at; both stand in the address, so that a link leads there. An address that
 * names none, or nonsense, shows the first step that is still open.
 */
export function useLook(steps: Step[]) {
  const [search, setSearch] = useSearchParams();
  // What was open at first: filling it in must not lead away from it.
  const [first] = useState(() => (steps.find((s) => kindOf(s).isOpen(s)) ?? steps.find((s) => s.kind === 'call'))?.id);
  const wanted = search.get('step') ?? '';
  const byNumber = /^\d{1,4}$/.test(wanted) ? steps[Number(wanted) - 1] : undefined;
  const shown = steps.find((s) => s.id === wanted) ?? byNumber ?? steps.find((s) => s.id === first) ?? steps[0];
  const n = Number(search.get('record') ?? 1);
  const number = Number.isSafeInteger(n) && n > 0 ? n : 1;
  const put = (key: string, value: string) =>
    setSearch(
      (p) => {
        p.set(key, value);
        return p;
      },
      { replace: true },
    );
  return {
    /** Its id; undefined when there are no steps. */
    step: shown?.id,
    number,
    at: (id: string | undefined) => id && put('step', id),
    record: (to: number) => put('record', String(Math.max(1, to))),
    /** Looks at the step so many places on. */
    move: (by: number) => {
      const at = steps.findIndex((s) => s.id === shown?.id);
      const next = steps[Math.min(steps.length - 1, Math.max(0, at + by))];
      if (next) put('step', next.id);
    },
  };
}
export type Look = ReturnType<typeof useLook>;
