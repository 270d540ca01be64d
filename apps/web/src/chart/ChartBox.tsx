import { useColorScheme } from '@mui/material/styles';
import type { EChartsCoreOption } from 'echarts/core';
import { useEffect, useRef } from 'react';
import { dusk, oat, type Tokens } from '../theme/tokens';
import { createChart, type Chart } from './echarts';

/** A chart that follows its box and the scheme. `option` is built by a pure function of data and tokens. */
export function ChartBox({
  option,
  height,
  label,
  onReady,
}: {
  option: (tokens: Tokens) => EChartsCoreOption;
  height: number;
  label: string;
  onReady?: (chart: Chart) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<Chart | null>(null);
  const drawn = useRef(false);
  const { mode, systemMode } = useColorScheme();
  const tokens = (mode === 'system' ? systemMode : mode) === 'dark' ? dusk : oat;
  useEffect(() => {
    if (!box.current) return;
    drawn.current = false;
    const made = createChart(box.current, null, { renderer: 'canvas' });
    chart.current = made;
    onReady?.(made);
    const watch = new ResizeObserver(() => made.resize());
    watch.observe(box.current);
    return () => {
      watch.disconnect();
      made.dispose();
      chart.current = null;
    };
  }, [onReady]);
  useEffect(() => {
    // The library cannot be asked for an option before it has one.
    const zoom = drawn.current
      ? (chart.current?.getOption()['dataZoom'] as { start: number; end: number }[] | undefined)?.[0]
      : undefined;
    drawn.current = chart.current !== null;
    chart.current?.setOption(option(tokens), { notMerge: true });
    if (zoom && (zoom.start > 0 || zoom.end < 100))
      chart.current?.dispatchAction({ type: 'dataZoom', start: zoom.start, end: zoom.end });
  }, [option, tokens]);
  return <div ref={box} role="img" aria-label={label} style={{ height, width: '100%' }} />;
}
