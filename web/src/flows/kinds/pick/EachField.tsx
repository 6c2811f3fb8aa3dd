import { Input, Select } from 'antd';
import { useMemo, useState } from 'react';
import { placeWords, toXPath } from './paths';
import css from './EachField.module.css';

const WHOLE = '';
const TYPED = '\0typed';

interface Props {
  value: string;
  set: (path: string) => void;
  options: { path: string; repeats: boolean }[];
}

/** What one record is: the whole answer, each of an element, also inside a document in a string, or any path typed. */
export function EachField({ value, set, options }: Props) {
  const [draft, setDraft] = useState<string>();
  const choices = useMemo(
    () => [
      { value: WHOLE, label: 'the whole answer' },
      ...options.map((e) => {
        const path = toXPath(e.path, '$reply/');
        return { value: path, label: `each ${placeWords(e.path)}${e.repeats ? ' (repeats)' : ''}` };
      }),
    ],
    [options],
  );
  const isTyped = draft !== undefined || (value !== WHOLE && !choices.some((c) => c.value === value));
  const end = () => {
    if (draft !== undefined) set(draft);
    setDraft(undefined);
  };
  return (
    <>
      <Select
        size="small"
        aria-label="one record is"
        className={isTyped ? css.short : css.each}
        popupMatchSelectWidth={false}
        value={isTyped ? TYPED : value}
        options={[...choices, { value: TYPED, label: 'each at a path' }]}
        onChange={(v) => (v === TYPED ? setDraft(value) : (setDraft(undefined), set(v)))}
      />
      {isTyped && (
        <Input
          size="small"
          className={`mono ${css.path}`}
          aria-label="path of one record"
          placeholder="$reply//row, or any XPath"
          autoFocus={draft !== undefined}
          value={draft ?? value}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={end}
          onPressEnter={end}
          onKeyDown={(e) => {
            if (e.key === 'Escape') {
              e.stopPropagation();
              setDraft(undefined);
            }
          }}
        />
      )}
    </>
  );
}
