import { useQuery } from "@tanstack/react-query";
import { type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { useParams } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { marked as markedOf } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useAddress, useChange, useProjectId, useSummary } from "../../data/project";
import { chosenStretch, type Stretch } from "../../lib/chosen";
import { type Interval, type Piece, pieces } from "../../lib/marks";
import { date, plural } from "../../lib/numbers";
import { useReadPlace } from "../../lib/readplace";
import { useTabs } from "../../lib/tabs";
import { Button, Failure, Segments, Waiting } from "../../parts/controls";
import { FindInText } from "../../parts/findintext";
import { Steps } from "../../parts/steps";
import { useToast } from "../../parts/toast";
import { useEvidence } from "../../shell/evidence";
import { Speaker } from "../coding/speaker";
import { Beside } from "./beside";
import { CorpusHead } from "./head";
import { Placeholder } from "./placeholder";

type Text = Schema["TextPublic"];

/** A text to read: numbered, pages and notes marked, the terms of the open evidence in straw; beside it what is known of it. */
export function Reader() {
  const project_id = useProjectId();
  const text_id = Number(useParams().textId);
  const [paragraph] = useAddress("paragraph", "");
  const marked = useMarked();
  const revision = useSummary().data?.revision;
  const writes = useSummary().data?.role !== "reader";
  const [unlocked, setUnlocked] = useState(false);
  const [numbers, setNumbers] = useAddress("numbers", "paragraphs");
  const [chosen, setChosen] = useState<Stretch | null>(null);
  const page = useRef<HTMLDivElement>(null);
  const { open } = useTabs(project_id);
  const path = { path: { project_id, text_id } };
  const found = useQuery({
    queryKey: keys.of(project_id, "text", text_id, revision, marked),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/texts/{text_id}", { params: { ...path, query: marked } })),
    placeholderData: (before) => (before?.id === text_id ? before : undefined),
  });
  const beside = useQuery({
    queryKey: keys.of(project_id, "beside", text_id, revision),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/texts/{text_id}/beside", { params: path })),
    placeholderData: (before, query) => (query?.queryKey[3] === text_id ? before : undefined),
  });
  const title = found.data?.title;
  useEffect(() => {
    if (title !== undefined) open({ id: text_id, title });
  }, [open, text_id, title]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another text is shown
  useEffect(() => {
    setUnlocked(false);
    setChosen(null);
  }, [text_id]);
  const text = found.data;
  useReadPlace(project_id, text_id, text !== undefined && !unlocked, paragraph !== "");
  return (
    <div className="flex h-full flex-col">
      <CorpusHead />
      <div className="flex min-h-0 flex-1">
        <div data-scroller className="min-w-0 flex-1 overflow-auto bg-sheet px-8 pt-3 pb-16">
          {text && text.body !== "" && !unlocked && (
            <div className="sticky top-0 z-30 h-0">
              <div className="absolute top-0 -left-4">
                <FindInText
                  page={page}
                  body={text.body}
                  paragraphs={numbers === "lines" ? lineStarts(text.body).length : text.paragraphs.length}
                />
              </div>
            </div>
          )}
          <article className="mx-auto max-w-[660px]">
            <Steps
              textId={text_id}
              base={`/projects/${project_id}/corpus`}
              all={`/projects/${project_id}/corpus`}
            />
            {found.isPending && <Waiting what="Opening the text" />}
            {found.error && <Failure error={found.error} />}
            {text && (
              <>
                <div className="mb-3 flex items-center gap-2">
                  <Segments
                    label="Numbers"
                    value={numbers}
                    onChange={setNumbers}
                    choices={[
                      { value: "paragraphs", label: "paragraphs" },
                      { value: "lines", label: "lines" },
                    ]}
                  />
                  {writes && text.body !== "" && (
                    <Button
                      aria-pressed={unlocked}
                      onClick={() => setUnlocked(!unlocked)}
                      title={
                        unlocked
                          ? "Lock without keeping changes"
                          : "Locked against accidents; unlock to correct"
                      }
                    >
                      {unlocked ? "Lock" : "Unlock to correct"}
                    </Button>
                  )}
                  {chosen && writes && !unlocked && (
                    <span className="ml-auto max-w-[250px] truncate text-ink2">
                      “{chosen.words}” is chosen: write a note on it beside
                    </span>
                  )}
                </div>
                <Title text={text} />
                {text.body === "" ? (
                  <Placeholder text={text} writes={writes} />
                ) : unlocked ? (
                  <Correct text={text} onDone={() => setUnlocked(false)} />
                ) : (
                  <Page
                    page={page}
                    text={text}
                    beside={beside.data ?? null}
                    paragraph={Number(paragraph) || null}
                    lines={numbers === "lines"}
                    onChoose={setChosen}
                  />
                )}
              </>
            )}
          </article>
        </div>
        {text && (
          <Beside text={text} beside={beside.data ?? null} chosen={chosen} onNoted={() => setChosen(null)} />
        )}
      </div>
    </div>
  );
}

export function Title({ text }: { text: Text }) {
  return (
    <>
      <div className="text-ink2">
        {[text.source, date(text.date), text.words ? plural(text.words, "word") : "no text yet"]
          .filter(Boolean)
          .join(", ")}
      </div>
      <h1 className="mt-1.5 mb-3.5 font-serif text-[26px] leading-[1.2] font-semibold">{text.title}</h1>
    </>
  );
}

/** The body to correct; hits and notes keep to their words. */
function Correct({ text, onDone }: { text: Text; onDone: () => void }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const [body, setBody] = useState(text.body);
  const keep = useChange(
    () =>
      data(
        api.PUT("/api/v1/projects/{project_id}/texts/{text_id}/body", {
          params: { path: { project_id, text_id: text.id } },
          body: { body, revision: text.revision },
        }),
      ),
    (out) => {
      tell(
        out.texts
          ? "Corrected and locked. The state before is kept; undo brings it back."
          : "Nothing was changed.",
      );
      onDone();
    },
  );
  return (
    <div>
      <textarea
        aria-label="Text to correct"
        // biome-ignore lint/a11y/noAutofocus: it opened because somebody asked for it
        autoFocus
        rows={24}
        value={body}
        onChange={(event) => setBody(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) keep.mutate(undefined);
        }}
        className="mb-3 w-full rounded-[5px] border-2 border-rust bg-sheet px-4 py-3 font-serif text-[16px] leading-[1.55]"
      />
      <div className="flex items-center gap-2">
        <Button
          look="main"
          disabled={keep.isPending || body === text.body}
          onClick={() => keep.mutate(undefined)}
        >
          Keep and lock
        </Button>
        <Button onClick={onDone}>Leave as it was</Button>
        <span className="text-ink2">Ctrl Enter keeps. Notes and hits stay on their words.</span>
      </div>
    </div>
  );
}

/** The hits that are marked while reading: those of the open evidence. */
function useMarked() {
  const { shown } = useEvidence();
  return useMemo(() => (shown ? { marked: markedOf(shown) } : {}), [shown]);
}

interface PageProps {
  page: RefObject<HTMLDivElement | null>;
  text: Text;
  beside: Schema["Aside"] | null;
  paragraph: number | null;
  lines: boolean;
  onChoose: (stretch: Stretch | null) => void;
}

function Page({ page: holder, text, beside, paragraph, lines, onChoose }: PageProps) {
  const aim = useRef<HTMLParagraphElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another place is aimed at
  useEffect(() => {
    aim.current?.scrollIntoView({ block: "center" });
  }, [text.id, paragraph]);
  const starts = useMemo(() => (lines ? lineStarts(text.body) : text.paragraphs), [lines, text]);
  const cut = useMemo(() => {
    const notes = (beside?.notes ?? []).flatMap(({ start, end }) =>
      start === null || end === null ? [] : [{ start, end }],
    );
    return pieces(text.body, { hit: text.marks as readonly Interval[], note: notes }, starts.slice(1));
  }, [text, beside, starts]);
  const headings = new Set(
    (beside?.places ?? [])
      .filter((place) => place.kind === "heading" || place.kind === "section")
      .map((place) => place.start),
  );
  const turns = new Map(
    (beside?.places ?? []).filter((place) => place.kind === "turn").map(({ start, label }) => [start, label]),
  );
  const times = (beside?.places ?? []).filter((place) => place.kind === "time");
  const pages = (beside?.places ?? []).filter((place) => place.kind === "page");
  const choose = () => onChoose(chosenStretch(text.body));
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is reached by keys; it hears what comes up from there
    <div
      ref={holder}
      onMouseUp={choose}
      onKeyUp={choose}
      data-testid="body"
      className="relative font-serif text-[17px] leading-[1.6]"
    >
      {starts.map((start, at) => {
        const low = at === 0 ? 0 : start;
        const high = starts[at + 1] ?? Infinity;
        const page = pages.findLast((one) => one.start >= low && one.start < high);
        const heading = headings.has(start);
        const speaker = turns.get(start);
        const time = times.find((one) => one.start >= low && one.start < high);
        return (
          <p
            key={start}
            id={`n${at + 1}`}
            ref={paragraph === at + 1 ? aim : undefined}
            className={`relative whitespace-pre-line ${lines ? "mb-0.5" : "mb-3"} ${heading ? "font-semibold" : ""} ${paragraph === at + 1 ? "rounded bg-tint" : ""}`}
          >
            <span
              aria-hidden
              className="absolute -left-8 w-6 text-right font-sans text-[11px] text-ink3 select-none"
            >
              {at + 1}
            </span>
            {page && (
              <span
                className="absolute -right-14 w-12 font-sans text-[11px] text-ink3 select-none"
                title={`Page ${page.label} begins here`}
              >
                p. {page.label}
              </span>
            )}
            {time && (
              <span
                className="absolute -right-16 w-14 font-sans text-[11px] text-ink3 select-none"
                title={`At ${time.label}`}
              >
                {time.label}
              </span>
            )}
            {speaker && <Speaker name={speaker} />}
            {(cut[at] ?? []).map((piece) => (
              <Marks key={piece.at} piece={piece} last={at === starts.length - 1} />
            ))}
          </p>
        );
      })}
      {!starts.length && <p className="text-ink2">{text.body}</p>}
    </div>
  );
}

/** A piece of a paragraph under its marks; line ends at its end are the paragraph's own. */
function Marks({ piece, last }: { piece: Piece<"hit" | "note", Interval>; last: boolean }) {
  const shown = last ? piece.text : piece.text.replace(/\n+$/, "");
  const noted = piece.under.note ? "underline decoration-straw decoration-2 underline-offset-4" : "";
  const Tag = piece.under.hit ? "mark" : "span";
  return (
    <Tag data-at={piece.at} className={noted}>
      {shown}
    </Tag>
  );
}

/** Code point offsets at which lines with words begin. */
function lineStarts(body: string): number[] {
  const out: number[] = [];
  let at = 0;
  for (const line of body.split("\n")) {
    if (line.trim()) out.push(at);
    at += [...line].length + 1;
  }
  return out;
}
