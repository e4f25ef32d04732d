import { useMemo } from "react";
import type { KeywordsPage } from "../../data/answers";
import { three } from "../../lib/numbers";
import { Chart, escaped, themed, useColours } from "../../parts/charts/chart";

type Point = KeywordsPage["points"][number];

/** How often against how much more: what matters is named, without names that lie over each other. */
export function KeywordScatter({ page, onOpen }: { page: KeywordsPage; onOpen: (name: string) => void }) {
  const colours = useColours();
  const option = useMemo(() => {
    const { textStyle, tooltip, axis } = themed(colours);
    const [group, other] = page.sides.map((side) => side.label);
    const most = Math.max(...page.points.map((point) => Math.abs(point.g2)), 1);
    const data = [...page.points]
      .sort((a, b) => Math.abs(b.g2) - Math.abs(a.g2))
      .map((point) => {
        const colour = point.ratio > 0 ? colours.more : colours.less;
        return {
          ...point,
          value: [Math.max(point.rate, 0.1), point.ratio],
          symbolSize: 5 + Math.sqrt(Math.abs(point.g2) / most) * 14,
          itemStyle: {
            color: point.sure ? colour : colours.sheet,
            borderColor: colour,
            borderWidth: 1.5,
            opacity: 0.85,
          },
        };
      });
    return {
      textStyle,
      tooltip: {
        ...tooltip,
        formatter: ({ data }: { data: Point }) =>
          `${escaped(data.name)}: ${three(data.rate)} per 1,000,000 words, log ratio ${three(data.ratio)}, G2 ${three(Math.abs(data.g2))}${data.sure ? "" : "; not beyond chance, or in too few texts"}`,
      },
      grid: { left: 62, right: 30, top: 16, bottom: 42 },
      xAxis: {
        ...axis,
        type: "log",
        name: "hits per 1,000,000 words, both sides together",
        nameLocation: "middle",
        nameGap: 26,
        splitLine: { show: false },
      },
      yAxis: {
        ...axis,
        type: "value",
        name: `log ratio: above more in ${group}, below in ${other}`,
        nameLocation: "middle",
        nameGap: 40,
        nameTextStyle: { ...textStyle, width: 280, overflow: "truncate" },
      },
      series: [
        {
          type: "scatter",
          name: "words",
          labelLayout: { hideOverlap: true },
          label: {
            show: true,
            position: "right",
            formatter: ({ data }: { data: Point }) => data.name,
            color: colours.ink,
            fontSize: 12,
          },
          data,
        },
      ],
    };
  }, [page, colours]);
  if (!page.points.length) return null;
  return (
    <Chart
      option={option}
      height={330}
      label="Words by frequency and log ratio"
      onPoint={(data) => onOpen((data as Point).name)}
    />
  );
}
