import { Input } from 'antd';
import { useState } from 'react';
import css from './ResultName.module.css';

interface Props {
  label: string;
  placeholder: string;
  value?: string;
  set: (name?: string) => void;
}

/** The name of what a step gives, kept when it is left; a $ in front is no part of it. */
export function ResultName({ label, placeholder, value, set }: Props) {
  const [name, setName] = useState<string>();
  const keep = () => {
    if (name !== undefined) set(name.replace(/^\$/, '').trim() || undefined);
    setName(undefined);
  };
  return (
    <>
      <span className="soft nowrap">gives</span>
      <Input
        size="small"
        className={`mono ${css.name}`}
        aria-label={label}
        prefix="$"
        placeholder={placeholder}
        value={name ?? value ?? ''}
        onChange={(e) => setName(e.target.value)}
        onBlur={keep}
        onPressEnter={keep}
      />
    </>
  );
}
