import { LineChart, ScatterChart } from 'echarts/charts';
import { DataZoomComponent, GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import * as core from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';

// The linter takes a function called "use" for a React hook, hence the other name.
const register = core.use;
register([
  LineChart,
  ScatterChart,
  GridComponent,
  TooltipComponent,
  DataZoomComponent,
  MarkLineComponent,
  CanvasRenderer,
]);

/** The one door to the chart library. */
export const createChart = core.init;
export type Chart = core.EChartsType;
