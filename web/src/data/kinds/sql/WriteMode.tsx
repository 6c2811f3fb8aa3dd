import { Select } from 'antd';
import css from './TableTarget.module.css';

export type Mode = 'insert' | 'update' | 'upsert' | 'delete';

const MODES: { value: Mode; label: string }[] = [
  { value: 'insert', label: 'each row is inserted' },
  { value: 'update', label: 'the row with its key is updated' },
  { value: 'upsert', label: 'inserted, or updated by its key' },
  { value: 'delete', label: 'the row with its key is deleted' },
];

interface Props {
  mode?: string;
  keys?: string[];
  /** Of the table. */
  columns: { label: string; key?: boolean }[];
  set: (mode: Mode, keys: string[]) => void;
}

/** What rows do to a table, and by what a row is known that is there. */
export function WriteMode({ mode = 'insert', keys = [], columns, set }: Props) {
  const own = columns.filter((c) => c.key).map((c) => c.label);
  const choose = (to: Mode) =>
    set(to, to === 'insert' ? [] : keys.length ? keys : own.length ? own : columns.slice(0, 1).map((c) => c.label));
  return (
    <span className="row">
      <Select<Mode>
        size="small"
        aria-label="what rows do"
        className={css.mode}
        value={mode as Mode}
        onChange={choose}
        options={MODES}
      />
      {mode !== 'insert' && (
        <>
          <span className="soft">key</span>
          <Select
            size="small"
            mode="multiple"
            aria-label="key of the table"
            className={css.keys}
            value={keys}
            onChange={(to) => to.length > 0 && set(mode as Mode, to)}
            options={columns.map((c) => ({ value: c.label, label: c.label }))}
          />
        </>
      )}
    </span>
  );
}
