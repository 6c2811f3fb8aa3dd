import { Input, Select } from 'antd';
import type { CellProps } from './cell';
import css from './cells.module.css';

const RULES = [
  { value: 'usual', label: 'security must be understood' },
  { value: 'yes', label: 'all must be understood' },
  { value: 'no', label: 'none must be understood' },
];

/** What the headers that the connection adds say of themselves: whether they must be understood, and by whom. */
export function HeaderRulesCell({ settings, set, of }: CellProps) {
  const must = settings.mustUnderstand;
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <Select
        size="small"
        aria-label={`must be understood${whose}`}
        className={css.choice}
        value={must === undefined ? 'usual' : must ? 'yes' : 'no'}
        options={RULES}
        onChange={(v) => set({ mustUnderstand: v === 'usual' ? undefined : v === 'yes' })}
      />
      <span className="soft small">role</span>
      <Input
        size="small"
        aria-label={`role of the headers${whose}`}
        className={css.text}
        placeholder="the last receiver"
        value={settings.role ?? ''}
        onChange={(e) => set({ role: e.target.value || undefined })}
      />
    </span>
  );
}
