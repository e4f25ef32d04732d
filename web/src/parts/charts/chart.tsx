import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { Waiting } from "../basic";

// the chart library comes when the first drawing that needs it does
const EChart = lazy(() => import("./echart"));

/** What is drawn: an option of the chart library, its height, what it shows in words, and what a mark opens. */
export interface Drawn {
  option: Record<string, unknown>;
  height: number;
  label: string;
  onPoint?: ((data: unknown, series: string) => void) | undefined;
}

export function Chart(drawn: Drawn) {
  return (
    <Suspense fallback={<Waiting what="Drawing" />}>
      <EChart {...drawn} />
    </Suspense>
  );
}

const NAMES = [
  "ink",
  "ink2",
  "ink3",
  "line",
  "line2",
  "sheet",
  "paper",
  "bottle",
  "straw",
  "rust",
  "wash",
] as const;
export type Colours = Record<(typeof NAMES)[number], string> & { c: string[]; more: string; less: string };

function now(): Colours {
  const style = getComputedStyle(document.documentElement);
  const value = (name: string) => style.getPropertyValue(`--${name}`).trim() || "#888888";
  const found = Object.fromEntries(NAMES.map((name) => [name, value(name)])) as Record<
    (typeof NAMES)[number],
    string
  >;
  const mixed = (name: string) => `rgb(${value(name)})`;
  return {
    ...found,
    c: Array.from({ length: 10 }, (_, at) => value(`c${at}`)),
    more: mixed("more"),
    less: mixed("less"),
  };
}

/** The colours of the interface as the chart library takes them; others when light turns to dark. */
export function useColours(): Colours {
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    const watch = new MutationObserver(() => setTurn((before) => before + 1));
    watch.observe(document.documentElement, { attributes: true });
    return () => watch.disconnect();
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: read again when the theme turns
  return useMemo(now, [turn]);
}

/** What all drawings share: type, axes and tooltips as ours. */
export function themed(colours: Colours) {
  const text = { color: colours.ink2, fontFamily: "Libre Franklin Variable, sans-serif", fontSize: 12 };
  return {
    textStyle: text,
    tooltip: {
      confine: true,
      backgroundColor: colours.sheet,
      borderColor: colours.line2,
      textStyle: { ...text, color: colours.ink },
      extraCssText: "box-shadow: none; max-width: 320px; white-space: normal;",
    },
    axis: {
      axisLine: { lineStyle: { color: colours.line2 } },
      axisTick: { show: false },
      axisLabel: text,
      splitLine: { lineStyle: { color: colours.line } },
      nameTextStyle: text,
    },
    label: text,
  };
}

/** Text from the corpus inside markup. */
export function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
