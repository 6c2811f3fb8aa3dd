import { Select } from 'antd';
import { useSourcePreview, useSources } from '../data';
import css from './SourceSelect.module.css';

/** One of the project's sources. */
export function SourceSelect({ value, set }: { value?: string; set: (source: string) => void }) {
  const sources = useSources();
  return (
    <Select
      aria-label="source"
      className={css.choice}
      placeholder="choose a source"
      value={value}
      onChange={set}
      options={sources.data?.map((s) => ({ value: s.name, label: s.name }))}
    />
  );
}

interface FieldProps {
  source?: string;
  environment: string;
  value?: string;
  set: (field: string) => void;
  label?: string;
}

/** One of a source's fields. */
export function SourceFieldSelect({ source, environment, value, set, label = 'field' }: FieldProps) {
  const preview = useSourcePreview(source, environment);
  return (
    <Select
      aria-label={label}
      className={css.choice}
      placeholder="choose a field"
      value={value}
      onChange={set}
      options={preview.data?.fields.map((f) => ({ value: f.name, label: f.label }))}
    />
  );
}
