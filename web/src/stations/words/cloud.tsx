import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, data, saveBlob } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { layOut, type Scale, type Shape } from "../../lib/cloud";
import { plural, whole } from "../../lib/numbers";
import { Button, Field, Menu, Segments, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { picturePng, pictureSvg } from "../compare/picture";
import type { WordRow, WordsRequest } from "./words";

const FAMILY = "Libre Franklin Variable, Libre Franklin, sans-serif";

/** Width of a word as it will be drawn. */
function useMeasure() {
  return useMemo(() => {
    const pen = document.createElement("canvas").getContext("2d")!;
    return (text: string, size: number) => {
      pen.font = `600 ${size}px ${FAMILY}`;
      return pen.measureText(text).width;
    };
  }, []);
}

/** The most frequent words of the list as a picture; each opens its passages, and can be taken out. */
export function Cloud({
  request,
  groups,
  onOpen,
}: {
  request: WordsRequest;
  groups: readonly string[];
  onOpen: (row: WordRow) => void;
}) {
  const project_id = useProjectId();
  const { fail } = useToast();
  const [most, setMost] = useState("80");
  const [scale, setScale] = useState<Scale>("root");
  const [shape, setShape] = useState<Shape>("oval");
  const [largest, setLargest] = useState(84);
  const [tinted, setTinted] = useState(false);
  const [out, setOut] = useState<readonly string[]>([]);
  const svg = useRef<SVGSVGElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 760, height: 460 });
  useEffect(() => {
    const watch = new ResizeObserver(
      ([entry]) =>
        entry &&
        setRoom({
          width: Math.max(360, Math.floor(entry.contentRect.width)),
          height: Math.max(300, Math.floor(entry.contentRect.height)),
        }),
    );
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const found = useQuery({
    queryKey: keys.of(project_id, "words", "cloud", request, most),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/words", {
          params: { path: { project_id } },
          body: {
            ...request,
            sort: "hits",
            descending: true,
            group: null,
            start: 0,
            most: Number(most) + 100,
          },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const measure = useMeasure();
  const rows = useMemo(
    () => (found.data?.rows ?? []).filter((row) => !out.includes(row.name)).slice(0, Number(most)),
    [found.data, out, most],
  );
  const placed = useMemo(
    () =>
      layOut(
        rows.map((row) => ({ text: row.name, value: row.hits, tint: strongest(row) })),
        { ...room, smallest: 13, largest, scale, shape },
        measure,
      ),
    [rows, room, largest, scale, shape, measure],
  );
  const byName = new Map(rows.map((row) => [row.name, row]));
  const beside = {
    title: "Words of the scope",
    base: `${plural(placed.length, "word")} by hits, ${scale === "root" ? "area by frequency" : scale === "log" ? "size by the logarithm of frequency" : "height by frequency"}; ${whole(found.data?.texts_in_scope ?? 0)} texts, stop list ${request.stop ? "on" : "off"}`,
  };
  const used = [...new Set(placed.map((word) => word.tint))].sort((a, b) => a - b);
  const save = (form: "svg" | "png") => {
    if (!svg.current) return;
    if (form === "svg")
      saveBlob(new Blob([pictureSvg(svg.current, beside)], { type: "image/svg+xml" }), "words.svg");
    else
      picturePng(svg.current, beside)
        .then((blob) => saveBlob(blob, "words.png"))
        .catch(fail);
  };
  return (
    <div className="flex min-h-0 flex-1 gap-4 px-4 pb-3">
      <div
        ref={box}
        className="min-h-0 min-w-0 flex-1 overflow-hidden rounded-md border border-line bg-sheet"
      >
        {found.isPending && <Waiting what="Counting words" />}
        {placed.length > 0 && (
          <svg
            ref={svg}
            width={room.width}
            height={room.height}
            role="group"
            aria-label="Cloud of words"
            fontFamily={FAMILY}
            fontWeight={600}
          >
            {placed.map((word) => (
              <text
                key={word.text}
                x={word.x}
                y={word.y}
                fontSize={word.size}
                textAnchor="middle"
                dominantBaseline="central"
                fill={tinted ? `var(--c${word.tint % 10})` : "var(--bottle)"}
                fillOpacity={tinted ? 1 : 0.62 + 0.38 * (word.size / largest)}
                role="button"
                tabIndex={0}
                aria-label={`${word.text}, ${whole(word.value)} hits`}
                className="cursor-pointer hover:underline"
                onClick={() => onOpen(byName.get(word.text)!)}
                onContextMenu={(event) => {
                  event.preventDefault();
                  setOut([...out, word.text]);
                }}
                onKeyDown={(event) => {
                  if (event.key === "Enter") onOpen(byName.get(word.text)!);
                  if (event.key === "Delete") setOut([...out, word.text]);
                }}
              >
                <title>{`${word.text}: ${whole(word.value)} hits. Click for its passages, right click or Delete to take it out.`}</title>
                {word.text}
              </text>
            ))}
          </svg>
        )}
      </div>
      <section aria-label="Cloud" className="w-[196px] shrink-0 overflow-auto">
        <Field label="Words">
          {(id) => (
            <Select
              id={id}
              value={most}
              choices={["30", "50", "80", "120", "200"].map((n) => ({ value: n, label: n }))}
              onChange={setMost}
            />
          )}
        </Field>
        <Field label="Size follows">
          {(id) => (
            <Select
              id={id}
              value={scale}
              choices={[
                { value: "root", label: "area by hits" },
                { value: "straight", label: "height by hits" },
                { value: "log", label: "logarithm of hits" },
              ]}
              onChange={(value) => setScale(value as Scale)}
            />
          )}
        </Field>
        <Field label="Largest word">
          {(id) => (
            <input
              id={id}
              type="range"
              min={28}
              max={120}
              value={largest}
              onChange={(event) => setLargest(Number(event.target.value))}
              className="w-full accent-[var(--bottle)]"
            />
          )}
        </Field>
        <div className="mb-3.5">
          <div className="mb-1 text-[12px] font-bold text-ink2">Shape</div>
          <Segments
            label="Shape"
            value={shape}
            onChange={(value) => setShape(value as Shape)}
            choices={[
              { value: "oval", label: "Oval" },
              { value: "block", label: "Block" },
              { value: "rows", label: "Rows" },
            ]}
          />
        </div>
        {groups.length > 1 && (
          <label className="mb-2 flex items-start gap-2">
            <input
              type="checkbox"
              className="mt-0.5"
              checked={tinted}
              onChange={(event) => setTinted(event.target.checked)}
            />{" "}
            Colour by the group with the highest rate
          </label>
        )}
        {tinted && (
          <ul className="mb-3 pl-1">
            {used.map((at) => (
              <li key={at} className="flex items-center gap-1.5">
                <span
                  aria-hidden
                  className="h-[9px] w-[9px] rounded-[2px]"
                  style={{ background: `var(--c${at % 10})` }}
                />
                {groups[at]}
              </li>
            ))}
          </ul>
        )}
        <Menu
          trigger={<Button>Save picture ▾</Button>}
          items={[
            { label: "As .svg", onSelect: () => save("svg") },
            { label: "As .png", onSelect: () => save("png") },
          ]}
        />
        {placed.length < rows.length && (
          <p className="mt-3 text-ink2">
            {plural(rows.length - placed.length, "word")} found no room; make the largest word smaller.
          </p>
        )}
        <div className="mt-4 text-[12px] font-bold text-ink2">Taken out</div>
        {out.length ? (
          <div className="mt-1 flex flex-wrap gap-1.5">
            {out.map((word) => (
              <button
                key={word}
                type="button"
                title="Put it back"
                onClick={() => setOut(out.filter((one) => one !== word))}
                className="rounded border border-line2 px-1.5 py-px hover:border-bottle"
              >
                {word} ↩
              </button>
            ))}
          </div>
        ) : (
          <p className="text-ink2">
            Right click on a word, or press Delete on it, to take it out of the picture.
          </p>
        )}
      </section>
    </div>
  );
}

/** The group in which a word has its highest rate. */
function strongest(row: WordRow): number {
  return row.group_rates.reduce<number>(
    (best, rate, at) => ((rate ?? 0) > (row.group_rates[best] ?? 0) ? at : best),
    0,
  );
}
