import { BarChart, HeatmapChart, SankeyChart, ScatterChart, TreemapChart } from "echarts/charts";
import { GridComponent, MarkLineComponent, TooltipComponent, VisualMapComponent } from "echarts/components";
import { type EChartsCoreOption, init, use } from "echarts/core";
import { LabelLayout } from "echarts/features";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import type { Drawn } from "./chart";

use([
  BarChart,
  HeatmapChart,
  SankeyChart,
  ScatterChart,
  TreemapChart,
  GridComponent,
  MarkLineComponent,
  TooltipComponent,
  VisualMapComponent,
  LabelLayout,
  SVGRenderer,
]);

/** A drawing of the chart library in its place, as wide as there is room. */
export default function EChart({ option, height, label, onPoint }: Drawn) {
  const holder = useRef<HTMLDivElement>(null);
  const open = useRef(onPoint);
  open.current = onPoint;
  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    const chart = init(element, null, { renderer: "svg", height });
    chart.setOption({ animation: false, ...option } as EChartsCoreOption);
    chart.on("click", (event) => open.current?.(event.data, event.seriesName ?? ""));
    const named = () => {
      const svg = element.querySelector("svg");
      svg?.setAttribute("data-figure", "");
      svg?.setAttribute("role", "img");
      svg?.setAttribute("aria-label", label);
    };
    named();
    chart.on("finished", named);
    const watch = new ResizeObserver(() => {
      chart.resize({ height });
      named();
    });
    watch.observe(element);
    return () => {
      watch.disconnect();
      chart.dispose();
    };
  }, [option, height, label]);
  return <div ref={holder} style={{ height }} className="rounded-md border border-line bg-sheet" />;
}
