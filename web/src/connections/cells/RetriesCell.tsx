import { InputNumber, Select } from 'antd';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { DurationInput } from './DurationInput';

/** Failures that are tried again unless said otherwise. */
const USUAL = ['unreachable', 'HTTP 429', 'HTTP 503'];
const KNOWN = [
  ...USUAL,
  'refused',
  'connect time-out',
  'name not found',
  'no token',
  'no session',
  'HTTP 502',
  'HTTP 504',
  'HTTP 5*',
];

/** How often a call is made again, after which failures, and how long it waits. */
export function RetriesCell({ settings, set, of }: CellProps) {
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <InputNumber
        size="small"
        id={`retries${of}`}
        aria-label={`retries${whose}`}
        min={0}
        className={css.number}
        placeholder="2"
        value={settings.retries}
        onChange={(v) => set({ retries: v ?? undefined })}
      />
      <span className="soft small">after</span>
      <Select
        size="small"
        mode="tags"
        className={css.names}
        aria-label={`failures that are tried again${whose}`}
        placeholder={USUAL.join(', ')}
        value={settings.retryOn ?? []}
        options={KNOWN.map((value) => ({ value, label: value }))}
        onChange={(codes: string[]) => set({ retryOn: codes.length ? codes : undefined })}
      />
      <span className="soft small">wait</span>
      <DurationInput
        label={`time before a retry${whose}`}
        placeholder="200 ms"
        value={settings.retryWaitMillis}
        set={(v) => set({ retryWaitMillis: v })}
      />
      <span className="soft small">doubling; never when in doubt</span>
    </span>
  );
}
