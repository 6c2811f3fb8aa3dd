import { Input } from 'antd';
import { useId } from 'react';
import { wide } from './place';

interface Props {
  label: string;
  value?: string;
  onChange: (v: string) => void;
  options: string[];
  width: number;
  small?: boolean;
  mono?: boolean;
  placeholder?: string;
}

/**
 * A text with suggestions, as the browser itself offers them: those of the component library do not stand fast typing.
 */
export function Suggest({ label, value, onChange, options, width, small, mono, placeholder }: Props) {
  const id = useId();
  return (
    <>
      <Input
        aria-label={label}
        size={small ? 'small' : undefined}
        className={mono ? 'mono' : undefined}
        style={wide(width)}
        list={id}
        placeholder={placeholder}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
      <datalist id={id}>
        {options.map((o) => (
          <option key={o} value={o} />
        ))}
      </datalist>
    </>
  );
}
