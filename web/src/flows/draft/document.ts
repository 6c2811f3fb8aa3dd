import type { Flow, FlowView } from '../../api/types';

export interface Doc {
  name: string;
  flow: Flow;
}

/** The document on screen, what it was before, and what of it is kept. */
export interface State {
  doc: Doc;
  past: Doc[];
  future: Doc[];
  version: number;
  savedAs: string;
}

export type Action =
  | { do: 'change'; change: (doc: Doc) => Doc }
  | { do: 'undo' }
  | { do: 'redo' }
  | { do: 'saved'; version: number; sent: string; doc: Doc }
  | { do: 'load'; view: FlowView };

const MAX_UNDO = 200;

/** Two documents are the same when they are written the same. */
export const text = (d: Doc) => JSON.stringify(d);

export const start = (v: FlowView): State => {
  const doc = { name: v.name, flow: v.definition };
  return { doc, past: [], future: [], version: v.version, savedAs: text(doc) };
};

export function reduce(s: State, a: Action): State {
  switch (a.do) {
    case 'change': {
      const doc = a.change(s.doc);
      return text(doc) === text(s.doc) ? s : { ...s, doc, past: [...s.past.slice(-MAX_UNDO), s.doc], future: [] };
    }
    case 'undo':
      return s.past.length
        ? { ...s, doc: s.past[s.past.length - 1], past: s.past.slice(0, -1), future: [s.doc, ...s.future] }
        : s;
    case 'redo':
      return s.future.length ? { ...s, doc: s.future[0], past: [...s.past, s.doc], future: s.future.slice(1) } : s;
    // What the server added (the contract version a step is made for) comes in, unless something changed meanwhile.
    case 'saved':
      return text(s.doc) === a.sent
        ? { ...s, version: a.version, doc: a.doc, savedAs: text(a.doc) }
        : { ...s, version: a.version, savedAs: a.sent };
    case 'load':
      return start(a.view);
  }
}
