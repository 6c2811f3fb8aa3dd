import { Input, Select } from 'antd';
import type { SettingsProps } from '../kind';
import css from './HeaderRules.module.css';

const RULES = [
  { value: 'usual', label: 'security must be understood' },
  { value: 'yes', label: 'all must be understood' },
  { value: 'no', label: 'none must be understood' },
];

/** What the headers that the connection adds say of themselves: whether they must be understood, and by whom. */
export function HeaderRules({ settings, set }: SettingsProps) {
  const must = settings.mustUnderstand;
  return (
    <span className="row small">
      <span className="soft">of these headers</span>
      <Select
        size="small"
        aria-label="must be understood"
        className={css.rule}
        value={must === undefined ? 'usual' : must ? 'yes' : 'no'}
        options={RULES}
        onChange={(v) => set((s) => ({ ...s, mustUnderstand: v === 'usual' ? undefined : v === 'yes' }))}
      />
      <span className="soft">for the role</span>
      <Input
        size="small"
        aria-label="role of the headers"
        className={css.role}
        placeholder="the last receiver"
        value={settings.role ?? ''}
        onChange={(e) => set((s) => ({ ...s, role: e.target.value || undefined }))}
      />
    </span>
  );
}
