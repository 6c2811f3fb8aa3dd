import { InputNumber, Switch } from 'antd';
import type { CellProps } from './cell';
import css from './cells.module.css';

/** Whether messages say when they were made, and how long that counts. */
export function TimestampCell({ settings, set, of }: CellProps) {
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <Switch
        size="small"
        aria-label={`WS-Security timestamp${whose}`}
        checked={!!settings.timestamp}
        onChange={(on) => set({ timestamp: on || undefined })}
      />
      {settings.timestamp && (
        <>
          <span className="soft small">counts for</span>
          <InputNumber
            size="small"
            aria-label={`seconds that the timestamp counts${whose}`}
            className={css.number}
            placeholder="300"
            value={settings.timestampSeconds}
            onChange={(v) => set({ timestampSeconds: v ?? undefined })}
          />
          <span className="soft small">seconds</span>
        </>
      )}
    </span>
  );
}
