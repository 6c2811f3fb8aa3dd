import type { BarSeriesOption, LineSeriesOption } from 'echarts/charts';
import type { GridComponentOption, TooltipComponentOption } from 'echarts/components';
import type { ComposeOption } from 'echarts/core';
import type { RunCharts } from '../api/types';
import { count } from '../common/format';

export type ChartOption = ComposeOption<
  BarSeriesOption | LineSeriesOption | GridComponentOption | TooltipComponentOption
>;

export interface Ink {
  text: string;
  line: string;
  panel: string;
  ink: string;
  copper: string;
  verdigris: string;
}

const MOST_SLOTS = 60;
const SLOT_SECONDS = 0.5;

/** Records a second for even spans of the run's time: the second a span ends at, and its rate. */
export function rates(points: RunCharts['rate']): [number, number][] {
  const end = Math.max(points.at(-1)?.second ?? 0, SLOT_SECONDS);
  const slots = Math.min(MOST_SLOTS, Math.max(1, Math.ceil(end / SLOT_SECONDS)));
  const width = end / slots;
  const out: [number, number][] = Array.from({ length: slots }, (_, i) => [(i + 1) * width, 0]);
  for (const p of points) out[Math.min(slots - 1, Math.floor(p.second / width))][1] += p.records / width;
  return out;
}

const base = (ink: Ink) => ({
  animation: false,
  grid: { left: 4, right: 8, top: 6, bottom: 16 },
  tooltip: {
    trigger: 'axis' as const,
    backgroundColor: ink.panel,
    borderColor: ink.line,
    textStyle: { color: ink.ink, fontSize: 12 },
  },
});
const label = (ink: Ink) => ({ color: ink.text, fontSize: 10, hideOverlap: true });
const hidden = { show: false };

export const rateOption = (points: RunCharts['rate'], ink: Ink): ChartOption => ({
  ...base(ink),
  xAxis: {
    type: 'value',
    max: 'dataMax',
    axisLine: { lineStyle: { color: ink.line } },
    axisLabel: { ...label(ink), formatter: '{value} s' },
    splitLine: hidden,
  },
  yAxis: { type: 'value', axisLabel: hidden, splitLine: hidden, axisLine: hidden, axisTick: hidden },
  series: [
    {
      type: 'line',
      data: rates(points),
      showSymbol: points.length < 2,
      lineStyle: { color: ink.verdigris, width: 1.6 },
      itemStyle: { color: ink.verdigris },
      tooltip: { valueFormatter: (v) => `${count(Math.round(Number(v)))} a second` },
    },
  ],
});

/** @param half half of the calls took at most so long */
export const latencyOption = (buckets: RunCharts['latency'], half: number | undefined, ink: Ink): ChartOption => ({
  ...base(ink),
  xAxis: {
    type: 'category',
    data: buckets.map((b) => `${b.upToMillis < 10 ? b.upToMillis.toFixed(1) : Math.round(b.upToMillis)} ms`),
    axisLine: { lineStyle: { color: ink.line } },
    axisTick: hidden,
    axisLabel: label(ink),
  },
  yAxis: { type: 'value', axisLabel: hidden, splitLine: hidden, axisLine: hidden },
  series: [
    {
      type: 'bar',
      barCategoryGap: '12%',
      data: buckets.map((b) => ({
        value: b.calls,
        itemStyle: { color: ink.copper, opacity: half !== undefined && b.upToMillis <= half ? 0.85 : 0.45 },
      })),
      tooltip: { valueFormatter: (v) => `${count(Number(v))} calls` },
    },
  ],
});
