import css from './Traffic.module.css';

const WIDE = 132;
const HIGH = 18;

/** Calls of the last day, a bar for each quarter of an hour; failed ones at its foot. */
export function Traffic({ calls, failed, label }: { calls: number[]; failed: number[]; label: string }) {
  const most = Math.max(1, ...calls);
  const step = WIDE / Math.max(1, calls.length);
  const bars = (of: number[], className: string) =>
    of.map(
      (n, i) =>
        n > 0 && (
          <rect
            key={i}
            className={className}
            x={i * step}
            width={Math.max(1, step - 0.4)}
            y={HIGH - Math.max(1, (HIGH * n) / most)}
            height={Math.max(1, (HIGH * n) / most)}
          />
        ),
    );
  return (
    <svg className={css.chart} width={WIDE} height={HIGH + 1} role="img" aria-label={label}>
      <line className={css.base} x1={0} x2={WIDE} y1={HIGH + 0.5} y2={HIGH + 0.5} />
      {bars(calls, css.calls)}
      {bars(failed, css.failed)}
    </svg>
  );
}
