import { useMemo } from "react";
import type { Table, TableRow } from "../../data/comparison";
import { written } from "../../data/measures";
import { whole } from "../../lib/numbers";
import { Chart, type Colours, escaped, themed, useColours } from "../../parts/charts/chart";
import { groupText } from "./periods";
import { cellLabel } from "./scale";
import type { Drawing } from "./settings";

type Open = (row: TableRow, group: string) => void;
/** A mark of a drawing: the places of its row and group; a mark of a whole row or group has one of them. */
interface Mark {
  row?: number;
  group?: number;
}

/** The drawings the chart library makes: bars, heat table, areas, flow. */
export function Drawn({
  draw,
  table,
  onOpen,
  onGroup,
}: {
  draw: Drawing;
  table: Table;
  onOpen: Open;
  /** All rows of a group together: the frame of an area, the end of a flow. */
  onGroup: (group: string) => void;
}) {
  const colours = useColours();
  const made = useMemo(() => MADE[draw]?.(table, colours), [draw, table, colours]);
  const onPoint = (data: unknown) => {
    const { row, group } = (data ?? {}) as Mark;
    if (group === undefined) return;
    if (row === undefined) onGroup(table.groups[group]!.label);
    else onOpen(table.rows[row]!, table.groups[group]!.label);
  };
  if (!made) return null;
  return (
    <>
      <Chart option={made.option} height={made.height} label={made.label} onPoint={onPoint} />
      <p className="mt-1.5 text-ink2">{made.says} Draw it as a table to go through its numbers by keys.</p>
    </>
  );
}

interface Made {
  option: Record<string, unknown>;
  height: number;
  label: string;
  says: string;
}

const MADE: Partial<Record<Drawing, (table: Table, colours: Colours) => Made>> = {
  bars,
  heat,
  area,
  flow,
};

function tip(table: Table) {
  return {
    formatter: ({ data }: { data: Mark }) => {
      const row = data.row === undefined ? null : table.rows[data.row];
      if (!row || data.group === undefined) return "";
      return escaped(cellLabel(row, table.groups[data.group]!.label, row.cells[data.group]!, table));
    },
  };
}

/** Shares of one whole are stacked, other measures stand side by side. */
function bars(table: Table, colours: Colours): Made {
  const { textStyle, tooltip, axis } = themed(colours);
  const { groups, measure } = table;
  const shown = table.rows.map((row, at) => ({ row, at })).filter(({ row }) => row.depth === 0 || !row.depth);
  const stacked = ["share", "share_of_all", "hits"].includes(measure.name);
  const thick = stacked ? 26 : Math.max(7, Math.min(16, 90 / shown.length));
  const block = stacked ? 40 : shown.length * (thick + 2) + 16;
  const height = Math.max(220, groups.length * block + 70);
  return {
    height,
    label: `${table.nouns} by group as bars, ${measure.axis}`,
    says: stacked
      ? `The bars of a group add up, in ${measure.unit}.`
      : `Each bar is a ${table.noun} in a group, in ${measure.unit}; intervals are in the dots and the table.`,
    option: {
      textStyle,
      tooltip: { ...tooltip, ...tip(table) },
      grid: { left: 12, right: 20, top: 10, bottom: 34, containLabel: true },
      xAxis: { ...axis, type: "value", name: measure.axis, nameLocation: "middle", nameGap: 24 },
      yAxis: {
        ...axis,
        type: "category",
        inverse: true,
        data: groups.map((group) => groupText(group.label)),
        axisLabel: { ...axis.axisLabel, width: 170, overflow: "truncate" },
      },
      series: shown.map(({ row, at }) => ({
        type: "bar",
        name: row.label,
        stack: stacked ? "all" : undefined,
        barWidth: thick,
        itemStyle: {
          color: colours.c[row.colour % 10],
          borderColor: colours.sheet,
          borderWidth: stacked ? 1 : 0,
        },
        label: {
          show: shown.length <= 8 && (!stacked || groups.length <= 12),
          position: stacked ? "inside" : "right",
          formatter: ({ data }: { data: { small?: boolean; group: number } }) =>
            shown.length === 1
              ? written(row.cells[data.group]!.value, measure.form)
              : data.small
                ? ""
                : row.name,
          color: stacked ? colours.sheet : colours.ink,
          fontSize: 11,
          overflow: "truncate",
        },
        data: row.cells.map((cell, group) => ({
          value: cell.value ?? 0,
          row: at,
          group,
          small: stacked ? (cell.value ?? 0) < 0.06 * total(table, group, shown) : false,
        })),
      })),
    },
  };
}

function total(table: Table, group: number, shown: readonly { row: TableRow }[]): number {
  return (
    shown.reduce((sum, { row }) => sum + (row.cells[group]?.value ?? 0), 0) || (table.groups.length ? 1 : 1)
  );
}

function heat(table: Table, colours: Colours): Made {
  const { textStyle, tooltip, axis } = themed(colours);
  const { groups, rows, measure } = table;
  const values = rows.flatMap((row) => row.cells.map((cell) => cell.value ?? 0));
  const height = Math.max(180, rows.length * 28 + 120);
  return {
    height,
    label: `${table.nouns} by group as a heat table, ${measure.axis}`,
    says: `The darker a cell, the larger its value, in ${measure.unit}.`,
    option: {
      textStyle,
      tooltip: { ...tooltip, ...tip(table) },
      grid: { left: 12, right: 20, top: 10, bottom: 20, containLabel: true },
      xAxis: {
        ...axis,
        type: "category",
        data: groups.map((group) => groupText(group.label)),
        axisLabel: {
          ...axis.axisLabel,
          rotate: groups.length > 8 ? 45 : 0,
          width: 120,
          overflow: "truncate",
        },
      },
      yAxis: {
        ...axis,
        type: "category",
        inverse: true,
        data: rows.map((row) => `${"  ".repeat(row.depth)}${row.name}`),
        axisLabel: { ...axis.axisLabel, width: 190, overflow: "truncate" },
      },
      visualMap: {
        show: false,
        min: Math.min(0, ...values),
        max: Math.max(...values, 1e-9),
        inRange: { color: [colours.sheet, colours.bottle] },
      },
      series: [
        {
          type: "heatmap",
          itemStyle: { borderColor: colours.line, borderWidth: 1 },
          label: {
            show: groups.length <= 14 && rows.length <= 40,
            formatter: ({ data }: { data: { said: string } }) => data.said,
            fontSize: 11,
          },
          data: rows.flatMap((row, at) =>
            row.cells.map((cell, group) => {
              const share = (cell.value ?? 0) / Math.max(...values, 1e-9);
              return {
                value: [group, at, cell.value ?? 0],
                row: at,
                group,
                said: written(cell.value, measure.form),
                label: { color: share > 0.55 ? colours.sheet : colours.ink },
              };
            }),
          ),
        },
      ],
    },
  };
}

function area(table: Table, colours: Colours): Made {
  const { textStyle, tooltip } = themed(colours);
  const { groups } = table;
  const inner = table.rows.map(
    (_, at) => !table.rows[at + 1] || table.rows[at + 1]!.depth <= table.rows[at]!.depth,
  );
  const leaves = table.rows.map((row, at) => ({ row, at })).filter(({ at }) => inner[at]);
  const one = groups.length === 1;
  const children = (group: number) =>
    leaves
      .map(({ row, at }) => ({
        name: one ? row.label : row.name,
        value: row.cells[group]!.hits,
        row: at,
        group,
        itemStyle: { color: colours.c[row.colour % 10] },
      }))
      .filter((leaf) => leaf.value > 0);
  return {
    height: 460,
    label: `${table.nouns} by group as areas, hits`,
    says: "Each area is as large as its hits; groups are framed. It shows parts of a whole, not rates.",
    option: {
      textStyle,
      tooltip: { ...tooltip, ...tip(table) },
      series: [
        {
          type: "treemap",
          roam: false,
          nodeClick: false,
          breadcrumb: { show: false },
          left: 4,
          right: 4,
          top: 4,
          bottom: 4,
          label: { color: colours.sheet, fontSize: 12, overflow: "truncate" },
          upperLabel: { show: !one, height: 20, color: colours.ink, fontWeight: 600 },
          itemStyle: { borderColor: colours.sheet, borderWidth: 1, gapWidth: 1 },
          levels: [
            { itemStyle: { gapWidth: 4, borderWidth: 0 } },
            { itemStyle: { gapWidth: 1, borderColor: colours.line2, borderWidth: one ? 1 : 2 } },
          ],
          data: one
            ? children(0)
            : groups
                .map((group, at) => ({
                  name: `${groupText(group.label)} (${whole(children(at).reduce((sum, leaf) => sum + leaf.value, 0))})`,
                  group: at,
                  itemStyle: { color: colours.wash },
                  children: children(at),
                }))
                .filter((group) => group.children.length),
        },
      ],
    },
  };
}

function flow(table: Table, colours: Colours): Made {
  const { textStyle, tooltip } = themed(colours);
  const rows = table.rows.map((row, at) => ({ row, at })).filter(({ row }) => row.depth === 0);
  const used = rows.filter(({ row }) => row.cells.some((cell) => cell.hits > 0));
  const fed = table.groups
    .map((group, at) => ({ group, at }))
    .filter(({ at }) => used.some(({ row }) => row.cells[at]!.hits > 0));
  const left = (at: number) => `row ${at}`;
  const right = (at: number) => `group ${at}`;
  const height = Math.max(260, Math.max(used.length, table.groups.length) * 34 + 40);
  return {
    height,
    label: `${table.nouns} flowing to groups, hits`,
    says: "Each band is as thick as its hits.",
    option: {
      textStyle,
      tooltip: { ...tooltip, ...tip(table) },
      series: [
        {
          type: "sankey",
          left: 10,
          right: 190,
          top: 10,
          bottom: 10,
          nodeGap: 10,
          draggable: false,
          label: {
            ...textStyle,
            color: colours.ink,
            width: 175,
            overflow: "truncate",
            formatter: ({ data }: { data: { called: string } }) => data.called,
          },
          lineStyle: { color: "source", opacity: 0.35, curveness: 0.5 },
          data: [
            ...used.map(({ row, at }) => ({
              name: left(at),
              called: row.label,
              itemStyle: { color: colours.c[row.colour % 10] },
            })),
            ...fed.map(({ group, at }) => ({
              name: right(at),
              called: groupText(group.label),
              group: at,
              itemStyle: { color: colours.ink2 },
            })),
          ],
          links: used.flatMap(({ row, at }) =>
            row.cells
              .map((cell, group) => ({
                source: left(at),
                target: right(group),
                value: cell.hits,
                row: at,
                group,
              }))
              .filter((link) => link.value > 0),
          ),
        },
      ],
    },
  };
}
