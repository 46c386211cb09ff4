/** The chart library, loaded when a chart is drawn. */
import { LineChart } from "echarts/charts";
import { GridComponent, TooltipComponent } from "echarts/components";
import { init, use, type EChartsType } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";

use([LineChart, GridComponent, TooltipComponent, SVGRenderer]);

export const makeChart = (box: HTMLElement): EChartsType => init(box, undefined, { renderer: "svg" });
