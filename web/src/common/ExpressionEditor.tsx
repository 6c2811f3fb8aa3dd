import {
  acceptCompletion,
  autocompletion,
  closeCompletion,
  completionStatus,
  CompletionContext,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { setDiagnostics } from '@codemirror/lint';
import { EditorState, Prec } from '@codemirror/state';
import { EditorView, keymap, placeholder as placeholderOf, tooltips } from '@codemirror/view';
import { useEffect, useEffectEvent, useRef } from 'react';
import './ExpressionEditor.css';

/** Something that can be completed: a field's path or a function, with its value or parameters beside it. */
export interface Completable {
  name: string;
  note?: string;
}

/** Where the editing of a value ends: it is kept, and the next or previous one comes. Null when nothing is kept. */
export type Ending = 'stay' | 'next' | 'previous';

interface Props {
  start: string;
  label: string;
  /** Looked up when something is typed. */
  completions: () => Completable[];
  /** Ranks what is offered; below zero it is not. */
  score: (typed: string, name: string) => number;
  ghost?: string;
  problem?: { text: string; offset?: number };
  onType: (text: string) => void;
  onEnd: (text: string | null, then: Ending) => void;
}

const MAX_OFFERED = 9;
const WORD = /[\p{L}_$@:/][\p{L}\p{N}_.:/@$-]*$/u;

/** One line of XPath: completes names in the word at the end, and marks what is wrong at its place. */
export function ExpressionEditor({ start, label, completions, score, ghost, problem, onType, onEnd }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const done = useRef(false);
  const end = useEffectEvent((text: string | null, then: Ending) => {
    if (done.current) return;
    done.current = true;
    onEnd(text, then);
  });
  const type = useEffectEvent((text: string) => onType(text));
  const offer = useEffectEvent((context: CompletionContext) => {
    const text = context.state.doc.toString();
    const word = context.matchBefore(WORD);
    if (text.startsWith('"') || (!word && !context.explicit)) return null;
    const typed = word?.text ?? '';
    const all = completions();
    if (all.some((c) => c.name === typed)) return null;
    const options = all
      .map((c) => ({ label: c.name, detail: c.note, boost: score(typed, c.name) }))
      .filter((o) => o.boost >= 0)
      .sort((a, b) => b.boost - a.boost)
      .slice(0, MAX_OFFERED)
      .map((o, i) => ({ ...o, boost: MAX_OFFERED - i }));
    return { from: word?.from ?? context.pos, options, filter: false };
  });
  const tab = useEffectEvent((text: string, back: boolean) =>
    end(!text && ghost && !back ? ghost : text, back ? 'previous' : 'next'),
  );
  useEffect(() => {
    const text = (v: EditorView) => v.state.doc.toString();
    const ends = (then: Ending) => (v: EditorView) => {
      end(text(v), then);
      return true;
    };
    const idle = (run: (v: EditorView) => boolean) => (v: EditorView) =>
      completionStatus(v.state) === 'active' ? false : run(v);
    // Enter right after the last letter, before the offer is on the screen, takes what it does a moment later.
    const first = (v: EditorView) => {
      if (completionStatus(v.state) !== 'pending') return false;
      const offered = offer(new CompletionContext(v.state, v.state.selection.main.head, false));
      const best = offered?.options[0]?.label;
      if (!offered || best === undefined) return false;
      const to = v.state.selection.main.head;
      closeCompletion(v);
      v.dispatch({
        changes: { from: offered.from, to, insert: best },
        selection: { anchor: offered.from + best.length },
      });
      return true;
    };
    const escape = (v: EditorView) => {
      if (!closeCompletion(v)) end(null, 'stay');
      return true;
    };
    const taken = (back: boolean) => (v: EditorView) => {
      tab(text(v), back);
      return true;
    };
    const editor = new EditorView({
      parent: host.current ?? undefined,
      state: EditorState.create({
        doc: start,
        selection: { anchor: start.length },
        extensions: [
          Prec.highest(
            keymap.of([
              { key: 'Escape', run: escape, stopPropagation: true },
              { key: 'Enter', run: (v) => acceptCompletion(v) || first(v) || ends('next')(v) },
              { key: 'ArrowDown', run: idle(ends('next')) },
              { key: 'ArrowUp', run: idle(ends('previous')) },
              { key: 'Tab', run: taken(false), shift: taken(true) },
            ]),
          ),
          history(),
          keymap.of([...historyKeymap, ...defaultKeymap]),
          // One line: what is pasted is brought onto it.
          EditorState.transactionFilter.of((tr) => (tr.newDoc.lines > 1 ? [] : tr)),
          autocompletion({
            override: [(c) => offer(c)],
            icons: false,
            tooltipClass: () => 'expression-offer',
            interactionDelay: 0,
          }),
          tooltips({ position: 'fixed', parent: document.body }),
          EditorView.contentAttributes.of({ 'aria-label': label }),
          ghost ? placeholderOf(ghost) : [],
          EditorView.updateListener.of((u) => {
            if (u.docChanged) type(u.state.doc.toString());
          }),
          EditorView.domEventHandlers({
            blur: (_, v) => {
              end(text(v), 'stay');
            },
          }),
        ],
      }),
    });
    view.current = editor;
    editor.focus();
    return () => editor.destroy();
    // The editor lives as long as the value is edited; what changes meanwhile comes by the events above.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(() => {
    const v = view.current;
    if (!v) return;
    const length = v.state.doc.length;
    const from = Math.min(problem?.offset ?? 0, Math.max(0, length - 1));
    const found = problem ? [{ from, to: length, severity: 'error' as const, message: problem.text }] : [];
    v.dispatch(setDiagnostics(v.state, found));
  }, [problem]);
  return <div ref={host} className="expression-editor mono" />;
}
