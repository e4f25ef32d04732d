import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { date } from "../../lib/numbers";
import { originWords } from "../../lib/origin";
import { Failure, Segments } from "../../parts/controls";
import { Marked } from "../../parts/marked";

const WIDE = [
  { value: "sentence", label: "Sentence" },
  { value: "paragraph", label: "Paragraph" },
  { value: "text", label: "Text" },
];

/** A hit in its line; a click widens it in place. */
export function Line({ passage }: { passage: Schema["PassagePublic"] }) {
  const [wide, setWide] = useState<"sentence" | "paragraph" | "text" | null>(null);
  const origin = originWords(passage);
  return (
    <div>
      <button
        type="button"
        aria-expanded={wide !== null}
        title={origin}
        onClick={() => setWide(wide ? null : "sentence")}
        className="grid w-full grid-cols-[86px_76px_1fr_auto_1fr] items-baseline gap-1.5 px-2 py-[5px] text-left hover:bg-wash"
      >
        <span className="truncate text-[11.5px] text-ink2">
          {passage.standing.speaker || passage.source || "–"}
        </span>
        <span className="truncate text-right text-[11.5px] text-ink3">{date(passage.date)}</span>
        <span dir="rtl" className="overflow-hidden text-right font-serif text-[14px] whitespace-nowrap">
          <bdi>{passage.before}</bdi>
        </span>
        <mark className="font-serif text-[14px] whitespace-nowrap">{passage.text}</mark>
        <span className="overflow-hidden font-serif text-[14px] whitespace-nowrap">{passage.after}</span>
      </button>
      {wide && <Widened passage={passage} wide={wide} onWide={setWide} />}
    </div>
  );
}

function Widened({
  passage,
  wide,
  onWide,
}: {
  passage: Schema["PassagePublic"];
  wide: "sentence" | "paragraph" | "text";
  onWide: (wide: "sentence" | "paragraph" | "text" | null) => void;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const mark = passage.marks[0]!;
  const body = {
    text_id: passage.text_id,
    start: passage.start + mark.start,
    end: passage.start + mark.end,
    to: wide,
  };
  const found = useQuery({
    queryKey: keys.of(project_id, "widen", body),
    queryFn: () =>
      data(api.POST("/api/v1/projects/{project_id}/widen", { params: { path: { project_id } }, body })),
    placeholderData: (before) => before,
  });
  const next = new URLSearchParams(search);
  next.set("paragraph", String(passage.paragraph));
  return (
    <div className="border-t border-line bg-wash px-4 py-2.5">
      <div className="mb-1.5 flex flex-wrap items-center gap-3 text-ink2">
        <Segments
          label="How much to show"
          value={wide}
          onChange={(value) => onWide(value as "sentence")}
          choices={WIDE}
        />
        <span className="min-w-0 truncate">{originWords(passage)}</span>
        <Link
          to={{ pathname: `/projects/${project_id}/corpus/${passage.text_id}`, search: `?${next}` }}
          className="ml-auto font-semibold text-bottle hover:underline"
        >
          Read on
        </Link>
      </div>
      {found.error && <Failure error={found.error} />}
      {found.data && (
        <div className="max-h-[320px] max-w-[76ch] overflow-auto font-serif text-[15px] leading-[1.5] whitespace-pre-wrap">
          <Marked
            text={found.data.text}
            marks={[{ start: found.data.mark_start, end: found.data.mark_end }]}
          />
        </div>
      )}
    </div>
  );
}
