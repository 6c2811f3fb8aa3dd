import type { Flow, Step } from '../api/types';
import { allSteps, armsOf, mapLists, placeOf, wrapping } from './tree';

/** Edits of a flow, each a function of the document there is when it happens. Steps are named by their id. */
type Omitted<T> = T extends unknown ? Omit<T, 'id'> : never;
/** A step that has no id yet. */
export type NewStep = Omitted<Step>;

export function freshId(flow: Flow): string {
  return freshIds(flow)();
}

/** Gives ids that are free, one after the other. */
function freshIds(flow: Flow): () => string {
  const taken = new Set(allSteps(flow.steps).map((s) => s.id));
  let n = taken.size;
  return () => {
    do n++;
    while (taken.has(`s${n}`));
    return `s${n}`;
  };
}

/** The same steps, all that is inside included, under other ids. */
function renamed(steps: Step[], next: () => string): Step[] {
  const named = steps.map((s) => ({ ...s, id: next() }));
  return mapLists({ format: 2, steps: named }, (list, key) =>
    key === '' ? list : list.map((s) => ({ ...s, id: next() })),
  ).steps;
}

/** A step that is gone meanwhile stays gone. */
export const changeStep = (flow: Flow, id: string, change: (s: Step) => Step): Flow =>
  mapLists(flow, (list) =>
    list.some((s) => s.id === id) ? list.map((s) => (s.id === id ? { ...change(s), id } : s)) : list,
  );

export const removeStep = (flow: Flow, id: string): Flow =>
  mapLists(flow, (list) => (list.some((s) => s.id === id) ? list.filter((s) => s.id !== id) : list));

/**
 * @param at the id of the step it comes after, or `id/arm` for the arm it begins; at the end when there is none.
 */
export const addStep = (flow: Flow, step: NewStep, at: string | undefined): Flow =>
  insert(flow, [{ ...step, id: freshId(flow) }], at);

function insert(flow: Flow, steps: Step[], at: string | undefined, before = false): Flow {
  let done = false;
  const put = mapLists(flow, (list, key) => {
    const place = key === at ? -1 : list.findIndex((s) => s.id === at);
    if (key !== at && place < 0) return list;
    done = true;
    const next = [...list];
    next.splice(before ? Math.max(0, place) : place + 1, 0, ...steps);
    return next;
  });
  return done ? put : { ...flow, steps: [...flow.steps, ...steps] };
}

export const addBefore = (flow: Flow, step: NewStep, at: string): Flow =>
  insert(flow, [{ ...step, id: freshId(flow) }], at, true);

/** Puts a block around a step. */
export function wrap(flow: Flow, id: string, kind: Step['kind']): Flow {
  const block = freshId(flow);
  return mapLists(flow, (list) =>
    list.some((s) => s.id === id)
      ? list.map((s) => (s.id === id ? ({ ...wrapping(kind, [s]), id: block } as Step) : s))
      : list,
  );
}

/** Puts what is inside a block in its place. */
export const unwrap = (flow: Flow, id: string): Flow =>
  mapLists(flow, (list) =>
    list.some((s) => s.id === id) ? list.flatMap((s) => (s.id === id ? armsOf(s).flatMap((a) => a.steps) : [s])) : list,
  );

/** Adds the step once more after itself. */
export function duplicate(flow: Flow, id: string): Flow {
  const place = placeOf(flow, id);
  return place ? insert(flow, renamed([place.list[place.at]], freshIds(flow)), id) : flow;
}

export const switched = (flow: Flow, id: string): Flow =>
  changeStep(flow, id, (s) => ({ ...s, off: s.off ? undefined : true }));

/** Moves a step among its neighbours. */
export const moved = (flow: Flow, id: string, by: number): Flow =>
  mapLists(flow, (list) => {
    const at = list.findIndex((s) => s.id === id);
    const to = at + by;
    if (at < 0 || to < 0 || to >= list.length) return list;
    const next = [...list];
    next.splice(to, 0, ...next.splice(at, 1));
    return next;
  });

/** A step with all that is inside as text, to be kept anywhere. */
export const asText = (step: Step) => JSON.stringify({ format: 2, steps: [step] }, null, 1);

/** The steps a text holds; none when it holds none. */
export function fromText(text: string, kinds: string[]): Step[] {
  try {
    const read = JSON.parse(text) as { steps?: unknown };
    const steps = Array.isArray(read?.steps) ? (read.steps as Step[]) : [];
    return allSteps(steps).every((s) => s && typeof s === 'object' && kinds.includes(s.kind)) ? steps : [];
  } catch {
    return [];
  }
}

export const paste = (flow: Flow, steps: Step[], at: string | undefined): Flow =>
  insert(flow, renamed(steps, freshIds(flow)), at);
