import type { Api, Tree } from '../api/types';
import { useLookAt } from './queries';
import { allSteps } from './tree';
import type { Where } from './where';

type Variable = Api<'Variable'>;

/** The name of the part that the step is worked for: of the innermost each around it; undefined outside of any. */
export function partName(w: Where): string | undefined {
  const around = allSteps(w.definition.steps).findLast(
    (s) => s.kind === 'each' && allSteps(s.steps).some((x) => x.id === w.step),
  );
  return around?.kind === 'each' ? (around.as ?? 'part') : undefined;
}

/**
 * What can be typed at a step, as a tree to complete from: the fields of the record, or of the part inside an each, and
 * below each `$name` what it stands for.
 */
export function useNames(where: Where, record: Tree | undefined): Tree | undefined {
  const look = useLookAt(where).data;
  return look ? namesOf(look.before, partName(where), record) : record;
}

export function namesOf(before: Variable[], part: string | undefined, record: Tree | undefined): Tree | undefined {
  const first = (name: string) => before.find((v) => v.name === name)?.values[0];
  const context = (part ? first(part) : undefined) ?? first('record') ?? record;
  const named = before
    .filter((v) => v.name !== 'record' || part)
    .flatMap((v): Tree[] => (v.values[0] ? [{ ...v.values[0], name: `$${v.name}` }] : []));
  return context && { ...context, children: [...(context.children ?? []), ...named] };
}
