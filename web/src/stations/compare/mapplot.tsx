import { useMemo } from "react";
import { useMap } from "../../data/answers";
import type { Table, TableRow } from "../../data/comparison";
import { percent, three } from "../../lib/numbers";
import { Chart, escaped, themed, useColours } from "../../parts/charts/chart";
import { Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { Statements } from "./statements";

interface Point {
  key: string;
  label: string;
  x: number;
  y: number;
  quality: number;
  mass: number;
}

/** Rows and groups as points: those that go together lie in the same direction from the middle. */
export function MapPlot({
  table,
  onOpen,
  onGroup,
}: {
  table: Table;
  onOpen: (row: TableRow, group: string) => void;
  onGroup: (group: string) => void;
}) {
  const found = useMap(table.comparison);
  const colours = useColours();
  const option = useMemo(() => {
    if (!found.data) return null;
    const { textStyle, tooltip, axis } = themed(colours);
    const { rows, groups, shares } = found.data;
    const colourOf = new Map(table.rows.map((row) => [row.key, row.colour]));
    const series = (name: string, points: readonly Point[], symbol: string) => ({
      type: "scatter",
      name,
      symbol,
      symbolSize: ({ mass }: Point & { value: number[] }) => 7 + Math.sqrt(mass ?? 0.1) * 14,
      labelLayout: { hideOverlap: true, moveOverlap: "shiftY" },
      label: {
        show: true,
        position: "right",
        formatter: ({ data }: { data: Point }) => data.label,
        color: colours.ink,
        fontWeight: name === "groups" ? 600 : 400,
      },
      data: points.map((point) => ({
        ...point,
        value: [point.x, point.y],
        symbolSize: 7 + Math.sqrt(point.mass) * 16,
        itemStyle: {
          color: name === "groups" ? colours.sheet : colours.c[(colourOf.get(point.key) ?? 0) % 10],
          borderColor: name === "groups" ? colours.ink : colours.sheet,
          borderWidth: name === "groups" ? 2 : 1,
          opacity: point.quality < 0.4 ? 0.45 : 1,
        },
      })),
    });
    const line = { silent: true, symbol: "none", lineStyle: { color: colours.line2, type: "solid" } };
    return {
      textStyle,
      tooltip: {
        ...tooltip,
        formatter: ({ data }: { data: Point }) =>
          `${escaped(data.label)}: ${percent(data.mass)} of all hits; ${percent(data.quality)}of it shown on the map`,
      },
      grid: { left: 50, right: 120, top: 24, bottom: 46 },
      xAxis: {
        ...axis,
        type: "value",
        scale: true,
        name: `first axis, ${percent(shares[0] ?? 0)}`,
        nameLocation: "middle",
        nameGap: 26,
        splitLine: { show: false },
        axisLabel: { ...axis.axisLabel, formatter: (value: number) => three(value) },
      },
      yAxis: {
        ...axis,
        type: "value",
        scale: true,
        name: shares.length > 1 ? `second axis, ${percent(shares[1]!)}` : "",
        splitLine: { show: false },
        axisLabel: { ...axis.axisLabel, formatter: (value: number) => three(value) },
      },
      series: [
        {
          ...series("rows", rows, "circle"),
          markLine: { ...line, data: [{ xAxis: 0 }, { yAxis: 0 }], label: { show: false } },
        },
        series("groups", groups, "rect"),
      ],
    };
  }, [found.data, colours, table]);
  if (found.error) return <Told error={found.error} />;
  if (!found.data || !option) return <Waiting what="Placing the points" />;
  const onPoint = (data: unknown, series: string) => {
    const { key } = data as Point;
    if (series === "groups") return onGroup(key);
    const row = table.rows.find((one) => one.key === key);
    // the group whose direction is nearest, so that there is something to read under the point
    const at = table.groups.reduce(
      (best, _, group) => ((row?.cells[group]?.hits ?? 0) > (row?.cells[best]?.hits ?? 0) ? group : best),
      0,
    );
    if (row) onOpen(row, table.groups[at]!.label);
  };
  return (
    <>
      <Statements statements={found.data.statements} testid="map-statements" />
      <Chart option={option} height={470} label={`Map of ${table.nouns} and groups`} onPoint={onPoint} />
      <p className="mt-1.5 text-ink2">
        Dots are {table.nouns}, squares groups; the larger, the more hits. A dot opens its passages in the
        group that has most of them, a square all passages of its group. Faint points do not lie in this
        plane.
      </p>
    </>
  );
}
