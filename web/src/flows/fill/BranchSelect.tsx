import { Select } from 'antd';
import type { ShapeRow } from '../../api/types';
import { name } from '../../contracts';
import { last } from './rows';
import css from './BranchSelect.module.css';

interface Props {
  row: ShapeRow;
  rows: ShapeRow[];
  taken?: string;
  take: (branch?: string) => void;
}

/** Which branch of a choice is sent. */
export function BranchSelect({ row: r, rows, taken, take }: Props) {
  const inside = (x: ShapeRow) => x.path.startsWith(`${r.path}/`) && !x.path.slice(r.path.length + 1).includes('/');
  return (
    <Select
      size="small"
      variant="borderless"
      allowClear
      className={css.branch}
      aria-label="branch"
      placeholder="first that has a value"
      value={taken}
      onChange={take}
      options={rows.filter(inside).map((b) => ({ value: last(b.path), label: name(b) }))}
    />
  );
}
