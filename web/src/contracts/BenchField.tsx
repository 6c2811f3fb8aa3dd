import { Input, Select } from 'antd';
import type { ShapeRow } from '../api/types';
import css from './BenchField.module.css';

const PLACEHOLDERS: Record<string, string> = {
  dateTime: '2031-04-02T21:40:00',
  date: '2031-04-02',
  time: '21:40:00',
  duration: 'P1DT2H',
};
const GIVEN = 'by the connection';
const base = (type: string) => type.slice(type.lastIndexOf(' ') + 1);

/** The value of a row: chosen where the type lists its values, free XML under a wildcard, otherwise typed. */
export function BenchField({
  row: r,
  value,
  set,
  isWrong,
  isGiven,
}: {
  row: ShapeRow;
  value: string;
  set: (v: string) => void;
  isWrong: boolean;
  /** Whether the connection fills it, unless something is typed. */
  isGiven?: boolean;
}) {
  const options = r.values ?? (base(r.type ?? '') === 'boolean' ? ['true', 'false'] : null);
  if (options)
    return (
      <Select
        size="small"
        showSearch
        allowClear
        className={css.input}
        aria-label={r.name}
        placeholder={isGiven ? GIVEN : r.required ? '' : 'optional'}
        value={value || undefined}
        status={isWrong ? 'error' : undefined}
        onChange={(v) => set(v ?? '')}
        options={options.map((v) => ({ value: v, label: v }))}
      />
    );
  if (r.type?.startsWith('JSON'))
    return (
      <Input.TextArea
        aria-label={r.name}
        autoSize
        className="mono"
        placeholder="JSON, or a text"
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    );
  if (r.kind === 'any' || r.kind === 'any attribute')
    return (
      <Input.TextArea
        aria-label={r.kind}
        autoSize
        className="mono"
        placeholder={r.kind === 'any' ? '<free xml/>' : 'name="value"'}
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    );
  return (
    <Input
      size="small"
      className={`mono ${css.input}`}
      aria-label={r.name}
      title={r.limits ?? undefined}
      placeholder={isGiven ? GIVEN : placeholder(r)}
      status={isWrong ? 'error' : undefined}
      value={value}
      onChange={(e) => set(e.target.value)}
    />
  );
}

const placeholder = (r: ShapeRow) =>
  r.fixed ??
  (r.defaultValue != null
    ? `default ${r.defaultValue}`
    : (PLACEHOLDERS[base(r.type ?? '')] ?? (r.required ? '' : 'optional')));
