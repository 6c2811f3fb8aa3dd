import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { xmlLanguage } from '@codemirror/lang-xml';
import { LanguageSupport, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tagHighlighter, tags } from '@lezer/highlight';
import { useEffect, useEffectEvent, useRef } from 'react';
import './MessageEditor.css';

const COLOURS = tagHighlighter([
  { tag: [tags.tagName, tags.angleBracket], class: 'xml-tag' },
  { tag: tags.attributeName, class: 'xml-attribute' },
]);

interface Props {
  label: string;
  value: string;
  onChange: (text: string) => void;
  /** Otherwise it is a request of plain HTTP. */
  isXml: boolean;
  /** Whether lines are numbered, for texts whose mistakes are said by line. */
  hasNumbers?: boolean;
}

/** A message as it is typed. A value that comes from elsewhere takes its place. */
export function MessageEditor({ label, value, onChange, isXml, hasNumbers = false }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const change = useEffectEvent((xml: string) => onChange(xml));
  useEffect(() => {
    const editor = new EditorView({
      parent: host.current ?? undefined,
      state: EditorState.create({
        extensions: [
          history(),
          keymap.of([...historyKeymap, ...defaultKeymap]),
          ...(isXml ? [new LanguageSupport(xmlLanguage), syntaxHighlighting(COLOURS)] : []),
          ...(hasNumbers ? [lineNumbers()] : [EditorView.lineWrapping]),
          EditorView.contentAttributes.of({ 'aria-label': label }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) change(u.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, [label, isXml, hasNumbers]);
  useEffect(() => {
    const v = view.current;
    if (v && v.state.doc.toString() !== value)
      v.dispatch({ changes: { from: 0, to: v.state.doc.length, insert: value } });
  }, [value]);
  return <div ref={host} className="xml-editor" />;
}
