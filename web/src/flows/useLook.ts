import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Flow } from '../api/types';
import { kindOf } from './kinds';
import { outlineRows, seen } from './outlineRows';
import { allSteps } from './tree';

/**
 * Which row of the outline, which record and which part of it are looked at; all stand in the address, so that a link
 * leads there. An address that names none, or nonsense, shows the first step that is still open.
 */
export function useLook(flow: Flow) {
  const [search, setSearch] = useSearchParams();
  const steps = allSteps(flow.steps);
  // What was open at first: filling it in must not lead away from it.
  const [first] = useState(() => (steps.find((s) => kindOf(s).isOpen(s)) ?? steps.find((s) => s.kind === 'call'))?.id);
  const rows = seen(outlineRows(flow, (s) => kindOf(s).title(s)));
  const wanted = search.get('step') ?? '';
  const byNumber = /^\d{1,4}$/.test(wanted) ? steps[Number(wanted) - 1]?.id : undefined;
  const row =
    rows.find((r) => r.key === wanted) ??
    rows.find((r) => r.key === byNumber) ??
    rows.find((r) => r.key === first) ??
    rows[0];
  const whole = (name: string) => {
    const n = Number(search.get(name) ?? 1);
    return Number.isSafeInteger(n) && n > 0 ? n : 1;
  };
  const number = whole('record');
  const put = (values: Record<string, string | undefined>) =>
    setSearch(
      (p) => {
        for (const [key, value] of Object.entries(values)) {
          if (value === undefined) p.delete(key);
          else p.set(key, value);
        }
        return p;
      },
      { replace: true },
    );
  return {
    rows,
    /** The row's key: a step's id, or `id/arm`; undefined when there are no steps. */
    key: row?.key,
    /** The id of the step, or of the arm's block. */
    step: row?.step,
    number,
    part: whole('part'),
    at: (key: string | undefined) => key && put({ step: key, part: undefined }),
    record: (to: number) => put({ record: String(Math.max(1, to)), part: undefined }),
    toPart: (to: number) => put({ part: String(Math.max(1, to)) }),
    /** Looks at the row so many places on. */
    move: (by: number) => {
      const at = rows.findIndex((r) => r.key === row?.key);
      const next = rows[Math.min(rows.length - 1, Math.max(0, at + by))];
      if (next) put({ step: next.key, part: undefined });
    },
  };
}
export type Look = ReturnType<typeof useLook>;
