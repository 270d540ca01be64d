import type { EChartsCoreOption } from 'echarts/core';
import { formatDuration, formatFigure } from '@mellow/core';
import type { Cut, LossRun, Mark, Pyramid } from '@mellow/model';
import type { Tokens } from '../theme/tokens';
import { figureFont, wordFont } from '../theme/tokens';

export interface TimelineData {
  pyramid: Pyramid;
  runs: readonly LossRun[];
  marks: readonly Mark[];
  /** Pauses: where the picture before and the one after meet. */
  cuts: readonly Cut[];
}

export const timelineLeftPx = 152;
const shapes: Record<string, { symbol: string; token: keyof Tokens }> = {
  'capture-miss': { symbol: 'diamond', token: 'capture' },
  'encode-miss': { symbol: 'triangle', token: 'encode' },
  'write-miss': { symbol: 'rect', token: 'drive' },
  missing: { symbol: 'rect', token: 'drive' },
};

/** A time axis label: seconds with a decimal for short spans, h:mm:ss for long ones. */
export function timeLabel(seconds: number, spanS: number): string {
  return spanS <= 90 ? `${Number(seconds.toFixed(2))} s` : formatDuration(seconds);
}

/**
 * Time from picture to picture, bitrate and lost frames over one time axis, as an ECharts option.
 * Times are seconds; the budget line is the period of one frame.
 */
export function timelineOption({ pyramid, runs, marks, cuts }: TimelineData, tokens: Tokens): EChartsCoreOption {
  const periodS = pyramid.periodUs / 1e6;
  const bucketS = pyramid.rowsPerBucket * periodS;
  const at = (bucket: number) => (pyramid.first + (bucket + 0.5) * pyramid.rowsPerBucket) * periodS;
  const endS = pyramid.dueFrames * periodS;
  const budgetMs = pyramid.periodUs / 1000;
  const pairs = (values: readonly (number | null)[]) => values.map((value, i) => [at(i), value]);
  const rates = smoothRates(pyramid);
  const label = { color: tokens.soft, fontFamily: figureFont, fontSize: 12 };
  const axis = (gridIndex: number, last: boolean) => ({
    type: 'value',
    gridIndex,
    min: 0,
    max: endS,
    axisLine: { show: false },
    axisTick: { show: false },
    splitLine: { lineStyle: { color: tokens.line } },
    axisLabel: { show: last, ...label, formatter: (value: number) => timeLabel(value, endS), showMaxLabel: false },
    axisPointer: { show: true, label: { show: false }, lineStyle: { color: tokens.accentInk } },
  });
  const row = (gridIndex: number, max: number, values: number[], format: (value: number) => string) => ({
    type: 'value',
    gridIndex,
    min: 0,
    max,
    splitNumber: 1,
    axisLine: { show: false },
    axisTick: { show: false },
    splitLine: { show: false },
    axisLabel: { ...label, formatter: format, customValues: values },
  });
  const highest = Math.max(budgetMs, ...pyramid.maxMs.map((v) => v ?? 0));
  // A stall of the game would press everything else onto the ground: above four budgets the axis ends.
  const frameTop = Math.min(highest * 1.05, budgetMs * 4);
  const highestRate = Math.max(0.001, ...rates);
  /** A mark is a line over all of the time there is, with its note where there is room for few. */
  const flag = ({ atUs, note }: Mark) => ({
    xAxis: atUs / 1e6,
    lineStyle: { color: tokens.accentInk, type: [2, 2] },
    label: {
      show: marks.length <= 8 && note !== '',
      position: 'insideEndTop',
      rotate: 0,
      ...label,
      fontFamily: wordFont,
      formatter: note.length > 24 ? `${note.slice(0, 23)}…` : note,
    },
  });
  /** A cut is a thicker line with how much was left out. */
  const seam = ({ why, atUs, leftOutUs }: Cut) => ({
    xAxis: atUs / 1e6,
    lineStyle: { color: tokens.ink, type: [6, 3], width: 2 },
    label: {
      show: cuts.length <= 8,
      position: 'insideStartBottom',
      rotate: 0,
      ...label,
      formatter: `${why} ${formatDuration(leftOutUs / 1e6)}`,
    },
  });
  return {
    animation: false,
    textStyle: { fontFamily: wordFont },
    axisPointer: { link: [{ xAxisIndex: 'all' }] },
    tooltip: {
      trigger: 'axis',
      confine: true,
      backgroundColor: tokens.card,
      borderColor: tokens.tick,
      textStyle: { color: tokens.ink, fontSize: 12 },
      transitionDuration: 0,
      formatter: (points: { seriesId?: string; axisValue: number; value: [number, number | null] }[]) =>
        tooltipText(points, endS),
    },
    dataZoom: [
      {
        type: 'inside',
        xAxisIndex: [0, 1, 2],
        filterMode: 'none',
        zoomOnMouseWheel: 'ctrl',
        moveOnMouseMove: 'shift',
        minValueSpan: Math.min(endS, 12 * periodS),
      },
    ],
    grid: [
      // Notes of marks stand above the first.
      { left: timelineLeftPx, right: 16, top: 18, height: 54 },
      { left: timelineLeftPx, right: 16, top: 92, height: 44 },
      { left: timelineLeftPx, right: 16, top: 152, height: 28 },
    ],
    xAxis: [axis(0, false), axis(1, false), axis(2, true)],
    yAxis: [
      row(0, frameTop, [budgetMs, ...(frameTop > budgetMs * 1.8 ? [frameTop] : [])], (v) =>
        v === frameTop && highest > frameTop ? `>${v.toFixed(0)} ms` : `${v.toFixed(1)} ms`,
      ),
      row(1, highestRate * 1.05, [highestRate], (v) => `${formatFigure(v)} Mb/s`),
      { type: 'value', gridIndex: 2, min: 0, max: 1, show: false },
    ],
    series: [
      {
        id: 'busiest',
        type: 'line',
        xAxisIndex: 0,
        yAxisIndex: 0,
        data: pairs(pyramid.maxMs),
        showSymbol: false,
        step: 'middle',
        lineStyle: { width: 0 },
        areaStyle: { color: tokens.game, opacity: 0.35 },
        markLine: {
          silent: true,
          symbol: 'none',
          animation: false,
          lineStyle: { color: tokens.ink, type: 'solid', width: 1 },
          label: { show: false },
          data: [{ yAxis: budgetMs }, ...marks.map(flag), ...cuts.map(seam)],
        },
      },
      {
        id: 'usual',
        type: 'line',
        xAxisIndex: 0,
        yAxisIndex: 0,
        data: pairs(pyramid.meanMs),
        showSymbol: false,
        lineStyle: { color: tokens.game, width: 1.5 },
      },
      {
        id: 'rate',
        type: 'line',
        xAxisIndex: 1,
        yAxisIndex: 1,
        data: rates.map((rate, i) => [at(i), rate]),
        showSymbol: false,
        step: 'middle',
        lineStyle: { width: 0 },
        areaStyle: { color: tokens.pack, opacity: 0.6 },
      },
      {
        id: 'lost',
        type: 'scatter',
        xAxisIndex: 2,
        yAxisIndex: 2,
        data: runs.map((run) => {
          const shape = shapes[run.fate] ?? { symbol: 'rect', token: 'drive' as const };
          return {
            value: [run.atUs / 1e6, 0.5, run.frames],
            symbol: shape.symbol,
            itemStyle: { color: tokens[shape.token] },
          };
        }),
        symbolSize: 11,
        label: {
          show: runs.length <= 40,
          position: 'right',
          ...label,
          formatter: (point: { value: [number, number, number] }) => (point.value[2] > 1 ? String(point.value[2]) : ''),
        },
        markLine: {
          silent: true,
          symbol: 'none',
          animation: false,
          lineStyle: { color: tokens.line, type: 'solid' },
          label: { show: false },
          data: [{ yAxis: 0.5 }],
        },
      },
    ],
  };

  /** Bits over a window of at least a quarter of a second, so that a key picture does not drown the rest. */
  function smoothRates(p: Pyramid): number[] {
    const half = Math.max(0, Math.round(0.125 / bucketS));
    return p.bytes.map((_, i) => {
      let sum = 0;
      let count = 0;
      for (let j = Math.max(0, i - half); j <= Math.min(p.bytes.length - 1, i + half); j++) {
        sum += p.bytes[j] ?? 0;
        count++;
      }
      return (sum * 8) / (count * bucketS) / 1e6;
    });
  }
}

function tooltipText(
  points: { seriesId?: string; axisValue: number; value: [number, number | null] }[],
  spanS: number,
): string {
  const value = (id: string) => points.find((p) => p.seriesId === id)?.value[1] ?? null;
  const lines = [`<b>${timeLabel(points[0]?.axisValue ?? 0, spanS)}</b>`];
  const [busiest, usual, rate] = [value('busiest'), value('usual'), value('rate')];
  if (usual !== null && busiest !== null)
    lines.push(`from picture to picture ${usual.toFixed(1)} ms, at most ${busiest.toFixed(1)} ms`);
  if (rate !== null) lines.push(`video ${formatFigure(rate)} Mb/s`);
  return lines.join('<br>');
}
