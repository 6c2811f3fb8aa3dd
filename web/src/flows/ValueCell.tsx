import { AutoComplete, type RefSelectProps } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { FunctionView, Rule, Tree } from '../api/types';
import { fuzzy } from './values';

const PLAIN = /^(\$?[\p{L}_][\p{L}\p{N}_.-]*)(\/@?[\p{L}_][\p{L}\p{N}_.-]*)*$/u;

export function ShowValue({ rule, ghost }: { rule?: Rule; ghost?: string }) {
  if (rule?.each)
    return (
      <span className="small">
        for each <span className="chip">{rule.each}</span>
      </span>
    );
  if (rule?.text !== undefined) return <span className="fixed-text cut">{rule.text}</span>;
  if (rule?.xpath)
    return PLAIN.test(rule.xpath) ? (
      <span className="chip cut">{rule.xpath}</span>
    ) : (
      <span className="expr cut" title={rule.xpath}>
        {rule.xpath}
      </span>
    );
  return ghost ? (
    <span className="ghost cut" title="suggested; Tab takes it">
      {ghost}
    </span>
  ) : null;
}

function fields(record?: Tree, prefix = ''): { path: string; text?: string }[] {
  return (record?.children ?? []).flatMap((c) =>
    c.children
      ? [{ path: prefix + c.name }, ...fields(c, `${prefix}${c.name}/`)]
      : [{ path: prefix + c.name, text: c.text }],
  );
}

interface Props {
  start: string;
  record?: Tree;
  functions: FunctionView[];
  ghost?: string;
  label: string;
  onType: (t: string) => void;
  onEnd: (t: string | null, then: 'stay' | 'next' | 'previous') => void;
}

/** The editor of one value: completes field and function names in the word at the end. */
export function ValueEditor({ start, record, functions, ghost, label, onType, onEnd }: Props) {
  const [text, setText] = useState(start);
  const [open, setOpen] = useState(false);
  const done = useRef(false);
  const ref = useRef<RefSelectProps>(null);
  useEffect(() => {
    ref.current?.focus();
  }, []);
  const word = text.startsWith('"') ? '' : (text.match(/[\p{L}_$@:/][\p{L}\p{N}_.:/@$-]*$/u)?.[0] ?? '');
  const options = useMemo(() => {
    if (text.startsWith('"') || (text && !word)) return [];
    const all = [
      ...fields(record).map((f) => ({ value: f.path, note: f.text ?? 'has more inside' })),
      ...functions.map((f) => ({ value: `${f.name}(`, note: f.parameters })),
    ];
    return all
      .map((o) => ({ ...o, score: word ? fuzzy(word, o.value) : 1 }))
      .filter((o) => o.score >= 0)
      .sort((a, b) => b.score - a.score)
      .slice(0, 9)
      .map((o) => ({
        value: text.slice(0, text.length - word.length) + o.value,
        label: (
          <span className="row" style={{ justifyContent: 'space-between' }}>
            <span className="mono">{o.value}</span>
            <span className="soft cut" style={{ maxWidth: 170 }}>
              {o.note}
            </span>
          </span>
        ),
      }));
  }, [text, word, record, functions]);
  const end = (t: string | null, then: 'stay' | 'next' | 'previous') => {
    if (!done.current) {
      done.current = true;
      onEnd(t, then);
    }
  };
  const change = (t: string) => {
    setText(t);
    onType(t);
    setOpen(true);
  };
  return (
    <AutoComplete
      ref={ref}
      size="small"
      className="mono"
      style={{ width: '100%' }}
      aria-label={label}
      value={text}
      options={options}
      open={open && options.length > 0}
      defaultActiveFirstOption={word.length > 0}
      placeholder={ghost}
      onChange={change}
      onSelect={(v: string) => {
        setText(v);
        onType(v);
        setOpen(false);
      }}
      onBlur={() => end(text, 'stay')}
      popupMatchSelectWidth={340}
      popupRender={(menu) => (
        <>
          {menu}
          <div className="soft small" style={{ borderTop: '1px solid var(--line)', padding: '4px 8px' }}>
            <kbd>Enter</kbd> take &nbsp; <kbd>"</kbd> fixed text &nbsp; any XPath 3.1 works
          </div>
        </>
      )}
      onInputKeyDown={(e) => {
        const popup = open && options.length > 0 && word.length > 0;
        if (e.key === 'Escape') {
          e.stopPropagation();
          if (open) setOpen(false);
          else end(null, 'stay');
        }
        if (e.key === 'Enter' && !(popup && options[0]?.value !== text)) {
          e.preventDefault();
          end(text, 'next');
        }
        if (e.key === 'ArrowDown' && !popup) {
          e.preventDefault();
          end(text, 'next');
        }
        if (e.key === 'ArrowUp' && !popup) {
          e.preventDefault();
          end(text, 'previous');
        }
        if (e.key === 'Tab') {
          e.preventDefault();
          end(!text && ghost && !e.shiftKey ? ghost : text, e.shiftKey ? 'previous' : 'next');
        }
      }}
    />
  );
}
