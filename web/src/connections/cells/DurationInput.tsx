import { Input } from 'antd';
import { useState } from 'react';
import { inWords, millisOf } from '../duration';
import css from './cells.module.css';

interface Props {
  label: string;
  placeholder?: string;
  /** In milliseconds. */
  value: number | undefined;
  set: (millis: number | undefined) => void;
}

/** A length of time, written as `30 s` or `5 min`. */
export function DurationInput({ label, placeholder, value, set }: Props) {
  const [typed, setTyped] = useState<string>();
  const isWrong = typed !== undefined && typed.trim() !== '' && millisOf(typed) === undefined;
  return (
    <Input
      size="small"
      aria-label={label}
      className={`mono ${css.duration}`}
      placeholder={placeholder}
      status={isWrong ? 'error' : undefined}
      title={isWrong ? 'a length of time, such as 500 ms, 30 s, 5 min or 2 h' : undefined}
      value={typed ?? (value === undefined ? '' : inWords(value))}
      onChange={(e) => {
        setTyped(e.target.value);
        const millis = millisOf(e.target.value);
        if (millis !== undefined || !e.target.value.trim()) set(millis);
      }}
      onBlur={() => !isWrong && setTyped(undefined)}
    />
  );
}
