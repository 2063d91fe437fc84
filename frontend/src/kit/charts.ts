/** The charting library, of which only what Ferox draws with is taken. Loaded when needed. */

import { CustomChart, LineChart, ScatterChart } from "echarts/charts";
import {
  AriaComponent,
  GridComponent,
  MarkLineComponent,
  TooltipComponent,
} from "echarts/components";
import { init, use, type ComposeOption } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import type { CustomSeriesOption, LineSeriesOption, ScatterSeriesOption } from "echarts/charts";
import type { GridComponentOption, TooltipComponentOption } from "echarts/components";

use([
  ScatterChart,
  LineChart,
  CustomChart,
  GridComponent,
  TooltipComponent,
  MarkLineComponent,
  AriaComponent,
  SVGRenderer,
]);

export type ChartOption = ComposeOption<
  | ScatterSeriesOption
  | LineSeriesOption
  | CustomSeriesOption
  | GridComponentOption
  | TooltipComponentOption
>;

export { init };
