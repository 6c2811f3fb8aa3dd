import { BarChart, LineChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import type { RunCharts } from '../api/types';
import { count } from '../common/format';
import { latencyOption, rateOption, rates, type ChartOption, type Ink } from './chartOptions';

echarts.use([BarChart, LineChart, GridComponent, TooltipComponent, MarkLineComponent, SVGRenderer]);

/** The page's colours, which charts do not inherit. */
function ink(of: Element): Ink {
  const style = getComputedStyle(of);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  return {
    text: colour('--soft'),
    line: colour('--line2'),
    panel: colour('--panel'),
    ink: colour('--ink'),
    copper: colour('--copper'),
    verdigris: colour('--verdigris'),
  };
}

function Chart({ label, option }: { label: string; option: (ink: Ink) => ChartOption }) {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const at = host.current;
    if (!at) return undefined;
    const chart = echarts.init(at, undefined, { renderer: 'svg' });
    chart.setOption(option(ink(at)));
    const follow = new ResizeObserver(() => chart.resize());
    follow.observe(at);
    return () => {
      follow.disconnect();
      chart.dispose();
    };
  }, [option]);
  return <div ref={host} className="chart" role="img" aria-label={label} />;
}

const Nothing = ({ children }: { children: string }) => <div className="soft small chart">{children}</div>;

/** Records accounted for a second, over the run's time. */
export function RateChart({ points }: { points: RunCharts['rate'] }) {
  if (points.length === 0) return <Nothing>nothing yet</Nothing>;
  const most = Math.max(...rates(points).map((r) => r[1]), 1);
  return (
    <Chart
      label={`at most ${count(Math.round(most))} records a second`}
      option={(colours) => rateOption(points, colours)}
    />
  );
}

/** How many calls took how long; buckets grow, so the axis is logarithmic. */
export function LatencyChart({ buckets, half }: { buckets: RunCharts['latency']; half?: number }) {
  if (buckets.length === 0) return <Nothing>no calls</Nothing>;
  return (
    <Chart label="how many calls took how long to answer" option={(colours) => latencyOption(buckets, half, colours)} />
  );
}
