import type { RunCharts } from '../api/types';
import { count } from '../common/format';

const W = 370;
const H = 66;

/** Records accounted for a second, over the run's time. */
export function RateChart({ points }: { points: RunCharts['rate'] }) {
  if (points.length === 0)
    return (
      <div className="faint small" style={{ height: H }}>
        nothing yet
      </div>
    );
  const end = Math.max(points[points.length - 1].second, 0.5);
  const slots = Math.min(60, Math.max(1, Math.ceil(end / 0.5)));
  const width = end / slots;
  const rates = new Array<number>(slots).fill(0);
  points.forEach((p) => {
    rates[Math.min(slots - 1, Math.floor(p.second / width))] += p.records / width;
  });
  const top = Math.max(...rates, 1);
  const x = (i: number) => (slots === 1 ? W / 2 : (i / (slots - 1)) * W);
  return (
    <svg
      viewBox={`0 0 ${W} ${H + 12}`}
      width="100%"
      height={H + 12}
      preserveAspectRatio="none"
      role="img"
      aria-label={`at most ${count(Math.round(top))} a second`}
    >
      <path d={`M0 ${H}H${W}`} stroke="var(--line2)" vectorEffect="non-scaling-stroke" />
      {slots === 1 ? (
        <rect x={W / 2 - 14} width={28} y={H - 60} height={60} fill="var(--verdigris)" opacity=".5" />
      ) : (
        <path
          d={`M${rates.map((r, i) => `${x(i)} ${H - (r / top) * (H - 8)}`).join('L')}`}
          fill="none"
          stroke="var(--verdigris)"
          strokeWidth="1.6"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}

/** How many calls took how long; buckets grow, so the axis is logarithmic. */
export function LatencyChart({ buckets, half }: { buckets: RunCharts['latency']; half?: number | null }) {
  if (buckets.length === 0)
    return (
      <div className="faint small" style={{ height: H }}>
        no calls
      </div>
    );
  const low = Math.log2(buckets[0].upToMillis) - 0.5;
  const high = Math.log2(buckets[buckets.length - 1].upToMillis) + 0.5;
  const x = (ms: number) => ((Math.log2(ms) - low) / (high - low)) * W;
  const top = Math.max(...buckets.map((b) => b.calls));
  const width = Math.max(2, W / ((high - low) * 6) - 1.5);
  return (
    <svg
      viewBox={`0 0 ${W} ${H + 12}`}
      width="100%"
      height={H + 12}
      preserveAspectRatio="none"
      role="img"
      aria-label="distribution of the time to answer"
    >
      <path d={`M0 ${H}H${W}`} stroke="var(--line2)" vectorEffect="non-scaling-stroke" />
      {buckets.map((b) => (
        <rect
          key={b.upToMillis}
          x={x(b.upToMillis) - width}
          width={width}
          y={H - Math.max(1, (b.calls / top) * (H - 6))}
          height={Math.max(1, (b.calls / top) * (H - 6))}
          fill="var(--copper)"
          opacity=".42"
        >
          <title>{`${count(b.calls)} up to ${b.upToMillis.toFixed(1)} ms`}</title>
        </rect>
      ))}
      {half != null && (
        <path
          d={`M${x(half) - width / 2} 0V${H}`}
          stroke="var(--copper)"
          strokeDasharray="2 2"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}
