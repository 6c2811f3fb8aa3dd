import { Select } from 'antd';
import { useAbout, type AboutKind } from './queries';
import css from './Labels.module.css';

export const Labels = ({ of }: { of: string[] }) => (
  <>
    {of.map((l) => (
      <span key={l} className={css.label}>
        {l}
      </span>
    ))}
  </>
);

interface Props {
  kind: AboutKind;
  chosen: string[];
  choose: (labels: string[]) => void;
}

/** Filters a list by labels; nothing where there are none. */
export function LabelFilter({ kind, chosen, choose }: Props) {
  const labels = useAbout().labels(kind);
  if (labels.length === 0) return null;
  return (
    <Select
      mode="multiple"
      size="small"
      allowClear
      className={css.filter}
      aria-label="filter by label"
      placeholder="all labels"
      value={chosen}
      onChange={choose}
      options={labels.map((l) => ({ value: l, label: l }))}
    />
  );
}
