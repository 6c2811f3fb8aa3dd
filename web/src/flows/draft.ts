import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useReducer, useRef } from 'react';
import { api, type ApiProblem } from '../api/client';
import type { Flow, FlowView, Step } from '../api/types';

interface Doc {
  name: string;
  flow: Flow;
}
interface State {
  doc: Doc;
  past: Doc[];
  future: Doc[];
  version: number;
  savedAs: string;
}
type Action =
  | { do: 'change'; doc: Doc }
  | { do: 'undo' }
  | { do: 'redo' }
  | { do: 'saved'; version: number; sent: string; doc: Doc }
  | { do: 'load'; view: FlowView };

const MAX_UNDO = 200;
const text = (d: Doc) => JSON.stringify(d);
const start = (v: FlowView): State => {
  const doc = { name: v.name, flow: v.definition };
  return { doc, past: [], future: [], version: v.version, savedAs: text(doc) };
};

function reduce(s: State, a: Action): State {
  switch (a.do) {
    case 'change':
      return text(a.doc) === text(s.doc)
        ? s
        : { ...s, doc: a.doc, past: [...s.past.slice(-MAX_UNDO), s.doc], future: [] };
    case 'undo':
      return s.past.length
        ? { ...s, doc: s.past[s.past.length - 1], past: s.past.slice(0, -1), future: [s.doc, ...s.future] }
        : s;
    case 'redo':
      return s.future.length ? { ...s, doc: s.future[0], past: [...s.past, s.doc], future: s.future.slice(1) } : s;
    // What the server added (the contract version a step is made for) comes in, unless something was changed meanwhile.
    case 'saved':
      return text(s.doc) === a.sent
        ? { ...s, version: a.version, doc: a.doc, savedAs: text(a.doc) }
        : { ...s, version: a.version, savedAs: a.sent };
    case 'load':
      return start(a.view);
  }
}

/** The flow on screen: every change can be undone and is saved by itself a moment later. */
export function useDraft(view: FlowView) {
  const queries = useQueryClient();
  const [state, dispatch] = useReducer(reduce, view, start);
  const latest = useRef(state);
  latest.current = state;
  const underWay = useRef<{ sent: string; saved: Promise<FlowView> }>(undefined);
  const send = useCallback(
    (doc: Doc, version: number) => {
      const saved = api.put<FlowView>(`/flows/${view.id}`, { name: doc.name, version, definition: doc.flow });
      underWay.current = { sent: text(doc), saved };
      return saved;
    },
    [view.id],
  );
  const save = useMutation({
    mutationFn: async () => {
      const doc = state.doc;
      return { doc, saved: await send(doc, state.version) };
    },
    onSuccess: ({ doc, saved }) => {
      dispatch({
        do: 'saved',
        version: saved.version,
        sent: text(doc),
        doc: { name: saved.name, flow: saved.definition },
      });
      queries.setQueryData(['flow', view.id], saved);
      void queries.invalidateQueries({ queryKey: ['flows'] });
    },
  });
  const clean = text(state.doc) === state.savedAs;
  const conflict =
    (save.error as ApiProblem | null)?.status === 409 && (save.error as ApiProblem).code === 'flow.version';
  const pending = useRef(save);
  pending.current = save;
  useEffect(() => {
    if (clean || conflict || save.isPending) return undefined;
    const t = setTimeout(() => pending.current.mutate(), 600);
    return () => clearTimeout(t);
  }, [state.doc, clean, conflict, save.isPending]);
  // Who leaves before the moment is over has meant it, too.
  useEffect(() => {
    const leave = async () => {
      const { doc, savedAs, version } = latest.current;
      if (text(doc) === savedAs || underWay.current?.sent === text(doc)) return;
      try {
        queries.setQueryData(['flow', view.id], await send(doc, (await underWay.current?.saved)?.version ?? version));
      } catch {
        /* somebody else's change came first, or the server is away: nobody is here any more to be asked */
      }
    };
    const unload = () => void leave();
    window.addEventListener('pagehide', unload);
    return () => {
      window.removeEventListener('pagehide', unload);
      void leave();
    };
  }, [queries, send, view.id]);
  const change = useCallback(
    (flow: Flow) => dispatch({ do: 'change', doc: { name: state.doc.name, flow } }),
    [state.doc.name],
  );
  const setStep = useCallback(
    (i: number, step: Step) =>
      dispatch({
        do: 'change',
        doc: { ...state.doc, flow: { steps: state.doc.flow.steps.map((s, j) => (j === i ? step : s)) } },
      }),
    [state.doc],
  );
  return {
    name: state.doc.name,
    flow: state.doc.flow,
    version: state.version,
    clean,
    saving: save.isPending,
    error: save.error,
    conflict,
    change,
    setStep,
    rename: (name: string) => dispatch({ do: 'change', doc: { ...state.doc, name } }),
    undo: () => dispatch({ do: 'undo' }),
    redo: () => dispatch({ do: 'redo' }),
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
    flush: async () => {
      if (!clean) await save.mutateAsync();
    },
    reload: async () => {
      const v = await api.get<FlowView>(`/flows/${view.id}`);
      save.reset();
      dispatch({ do: 'load', view: v });
    },
  };
}
export type Draft = ReturnType<typeof useDraft>;
