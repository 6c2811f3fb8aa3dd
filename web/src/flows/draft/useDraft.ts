import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useEffectEvent, useMemo, useReducer, useRef } from 'react';
import { api, type ApiProblem } from '../../api/client';
import type { Flow, FlowView, Step } from '../../api/types';
import { changeStep } from '../edits';
import { flowKeys } from '../queries';
import { reduce, start, text, type Doc } from './document';

const MOMENT_MILLIS = 600;

/** The flow on screen: every change can be undone and is saved by itself a moment later. */
export function useDraft(view: FlowView) {
  const queries = useQueryClient();
  const [state, dispatch] = useReducer(reduce, view, start);
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
      const kept = { name: saved.name, flow: saved.definition };
      dispatch({ do: 'saved', version: saved.version, sent: text(doc), doc: kept });
      queries.setQueryData(flowKeys.one(view.id), saved);
      void queries.invalidateQueries({ queryKey: flowKeys.list });
    },
  });
  const clean = text(state.doc) === state.savedAs;
  const problem = save.error as ApiProblem | null;
  const conflict = problem?.status === 409 && problem.code === 'flow.version';
  const saveNow = useEffectEvent(() => save.mutate());
  useEffect(() => {
    if (clean || conflict || save.isPending) return undefined;
    const t = setTimeout(() => saveNow(), MOMENT_MILLIS);
    return () => clearTimeout(t);
  }, [state.doc, clean, conflict, save.isPending]);
  // Who leaves before the moment is over has meant it, too.
  const leave = useEffectEvent(async () => {
    if (clean || underWay.current?.sent === text(state.doc)) return;
    try {
      const version = (await underWay.current?.saved)?.version ?? state.version;
      queries.setQueryData(flowKeys.one(view.id), await send(state.doc, version));
    } catch {
      /* somebody else's change came first, or the server is away: nobody is here any more to be asked */
    }
  });
  useEffect(() => {
    const unload = () => void leave();
    window.addEventListener('pagehide', unload);
    return () => {
      window.removeEventListener('pagehide', unload);
      void leave();
    };
  }, []);
  const edits = useMemo(() => {
    const change = (by: (flow: Flow) => Flow) =>
      dispatch({ do: 'change', change: (doc) => ({ ...doc, flow: by(doc.flow) }) });
    return {
      change,
      changeStep: (id: string, by: (step: Step) => Step) => change((flow) => changeStep(flow, id, by)),
      rename: (name: string) => dispatch({ do: 'change', change: (doc) => ({ ...doc, name }) }),
      /** Another definition in its place, such as an earlier version; it can be undone like any change. */
      replace: (name: string, flow: Flow) => dispatch({ do: 'change', change: () => ({ name, flow }) }),
      undo: () => dispatch({ do: 'undo' }),
      redo: () => dispatch({ do: 'redo' }),
    };
  }, []);
  return {
    ...edits,
    name: state.doc.name,
    flow: state.doc.flow,
    version: state.version,
    clean,
    error: save.error,
    conflict,
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
