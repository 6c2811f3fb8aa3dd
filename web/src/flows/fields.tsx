import { Input, Switch } from 'antd';
import { useState, type ReactNode } from 'react';
import { Field } from '../common/Field';
import { useEvaluated } from './queries';
import type { Where } from './where';
import css from './fields.module.css';

interface TextProps {
  label: ReactNode;
  id: string;
  value?: string;
  set: (to: string | undefined) => void;
  placeholder?: string;
}

/** An XPath with what it gives for the specimen. */
export function XPathField({ label, id, value, set, placeholder, where }: TextProps & { where: Where }) {
  const v = useEvaluated(where, value).data;
  return (
    <Field label={label} id={id}>
      <Input
        id={id}
        className="mono"
        placeholder={placeholder}
        value={value ?? ''}
        onChange={(e) => set(e.target.value || undefined)}
        status={v?.problem ? 'error' : undefined}
      />
      <div className={`small ${css.value}`}>
        {value && v?.problem ? (
          <span className="wrong">{v.problem}</span>
        ) : (
          value && v && <span className="soft">for the specimen: {shown(v.value, v.count)}</span>
        )}
      </div>
    </Field>
  );
}

const MOST = 160;
function shown(value: string | undefined, count: number | undefined) {
  if (value === undefined) return 'nothing';
  const short = value.length > MOST ? `${value.slice(0, MOST)}…` : value;
  return (count ?? 1) > 1 ? `${count} items: ${short}` : short;
}

/** Words for people. */
export const WordsField = ({ label, id, value, set, placeholder }: TextProps) => (
  <Field label={label} id={id}>
    <Input id={id} placeholder={placeholder} value={value ?? ''} onChange={(e) => set(e.target.value || undefined)} />
  </Field>
);

/** The name of a result; it is taken over when the field is left, so that no half name is looked up. */
export function NameField({ label, id, value, set, placeholder }: TextProps) {
  const [text, setText] = useState<string>();
  const end = () => {
    if (text !== undefined) set(text.replace(/^\$/, '').trim() || undefined);
    setText(undefined);
  };
  return (
    <Field label={label} id={id}>
      <Input
        id={id}
        className={`mono ${css.name}`}
        prefix="$"
        placeholder={placeholder}
        value={text ?? value ?? ''}
        onChange={(e) => setText(e.target.value)}
        onBlur={end}
        onPressEnter={end}
      />
    </Field>
  );
}

export const Choice = ({
  id,
  label,
  value,
  set,
  children,
}: {
  id: string;
  label: ReactNode;
  value?: boolean;
  set: (to: true | undefined) => void;
  children: ReactNode;
}) => (
  <Field label={label} id={id}>
    <Switch id={id} checked={!!value} onChange={(on) => set(on || undefined)} />{' '}
    <span className="soft small">{children}</span>
  </Field>
);
