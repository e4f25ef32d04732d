import { useInfiniteQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";
import { Link, useLocation, useSearchParams } from "react-router";
import { api, data, type Schema } from "../api/client";
import { type Evidence, evidenceFromText, searchOf, searchWithEvidence } from "../data/comparison";
import { keys } from "../data/keys";
import { addressNow, useProjectId } from "../data/project";
import { date, plural, three, whole } from "../lib/numbers";
import { originWords } from "../lib/origin";
import { Button, Failure, Segments, Swatch, Waiting } from "../parts/controls";
import { Marked } from "../parts/marked";
import { SidePanel } from "../parts/side";
import { useToast } from "../parts/toast";
import { JudgePanel, type JudgingOf } from "./judge";
import { type VerdictsOf, VerdictsPanel } from "./verdicts";

interface Panels {
  shown: Evidence | null;
  show: (what: Evidence | null) => void;
  judging: JudgingOf | VerdictsOf | null;
  judge: (what: JudgingOf | VerdictsOf | null) => void;
}

const Context = createContext<Panels>({ shown: null, show: () => {}, judging: null, judge: () => {} });

/** The open evidence stands in the address, so that a view is sent to a colleague with what lies open in it. */
export function EvidenceProvider({ children }: { children: ReactNode }) {
  const [written, setSearch] = useWritten();
  const shown = useMemo(() => evidenceFromText(written), [written]);
  const [judging, setJudging] = useState<JudgingOf | VerdictsOf | null>(null);
  const value = useMemo(
    () => ({
      shown: judging ? null : shown,
      judging,
      show: (what: Evidence | null) => {
        setSearch(what);
        if (what) setJudging(null);
      },
      judge: (what: JudgingOf | VerdictsOf | null) => {
        setJudging(what);
        if (what) setSearch(null);
      },
    }),
    [shown, judging, setSearch],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

function useWritten(): [string | null, (what: Evidence | null) => void] {
  const [search, setSearch] = useSearchParams();
  const set = useCallback(
    (what: Evidence | null) => {
      const now = addressNow();
      if (what || now.has("evidence")) setSearch(searchWithEvidence(now, what), { replace: true });
    },
    [setSearch],
  );
  return [search.get("evidence"), set];
}

export const useEvidence = () => useContext(Context);

type Passage = Schema["PassagePublic"];
type Form = "context" | "line";
/** Of a mean also from the highest or the lowest number on. */
type Order = "date" | "source" | "high" | "low";

export function EvidencePanel() {
  const { shown, show, judging, judge } = useEvidence();
  const close = useCallback(() => {
    show(null);
    judge(null);
  }, [show, judge]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented && !document.querySelector("[role=dialog]"))
        close();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [close]);
  if (judging && "shows" in judging)
    return (
      <VerdictsPanel
        key={`${judging.subject_id}.${judging.part}.${judging.kind}.${judging.shows}`}
        what={judging}
        onClose={close}
      />
    );
  if (judging) return <JudgePanel key={judging.sample_id} what={judging} onClose={close} />;
  if (!shown) return null;
  return <Panel what={shown} onClose={close} />;
}

function Panel({ what, onClose }: { what: Evidence; onClose: () => void }) {
  const project_id = useProjectId();
  const [shape, setForm] = useState<Form>("context");
  const numbers = what.comparison.target.kind === "numbers" && Boolean(what.cell?.row);
  const form = numbers ? "context" : shape;
  const [chosen, setOrder] = useState<Order>("date");
  const order = numbers || chosen === "date" || chosen === "source" ? chosen : "date";
  const asked = { comparison: what.comparison, cell: what.cell ?? {}, company: what.company ?? null };
  const found = useInfiniteQuery({
    queryKey: keys.of(project_id, "evidence", asked, what.pair, what.topic, form, order),
    initialPageParam: 0,
    queryFn: ({ pageParam }) => page(project_id, what, { form, order, start: pageParam, most: 25 }),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  const first = found.data?.pages[0];
  const passages = found.data?.pages.flatMap((page) => page.passages) ?? [];
  return (
    <SidePanel
      label="Evidence"
      title="Evidence"
      close="Close evidence"
      onClose={onClose}
      head={
        <>
          <div className="mb-2 text-ink2" data-testid="evidence-title">
            {what.colour !== undefined && <Swatch colour={what.colour} />}
            {what.title}
            {first && (
              <span data-testid="evidence-count">
                : {first.units != null && `${plural(first.units, UNITS[first.unit] ?? first.unit)} with `}
                {plural(first.hits, numbers ? "value" : "hit")} in {plural(first.texts, "text")}
              </span>
            )}
          </div>
          <div className="flex gap-2">
            {!numbers && (
              <Segments
                label="Form"
                value={form}
                onChange={(v) => setForm(v as Form)}
                choices={[
                  { value: "context", label: "In context" },
                  { value: "line", label: "In line" },
                ]}
              />
            )}
            <Segments
              label="Order"
              value={order}
              onChange={(v) => setOrder(v as Order)}
              choices={[
                { value: "date", label: "By date" },
                { value: "source", label: "By source" },
                ...(numbers
                  ? [
                      { value: "high", label: "Highest" },
                      { value: "low", label: "Lowest" },
                    ]
                  : []),
              ]}
            />
          </div>
        </>
      }
    >
      <div className="min-h-0 flex-1 overflow-auto">
        {found.isPending && <Waiting what="Finding the passages" />}
        {found.error && (
          <div className="p-3">
            <Failure error={found.error} />
          </div>
        )}
        {first && first.hits === 0 && !first.wordless && (
          <div className="px-3.5 py-6 text-ink2">No passages: this count is zero.</div>
        )}
        {first && !!first.wordless && (
          <div className="border-b border-line px-3.5 py-2 text-ink2">
            {plural(first.wordless, "text")} without words {first.wordless === 1 ? "has" : "have"} a value,
            too; there is nothing of {first.wordless === 1 ? "it" : "them"} to read here.
          </div>
        )}
        {passages.map((passage, at) => (
          <PassageItem key={at} passage={passage} form={form} />
        ))}
        {found.hasNextPage && (
          <div className="p-3 text-center">
            <Button onClick={() => void found.fetchNextPage()} disabled={found.isFetchingNextPage}>
              {found.isFetchingNextPage ? "Reading…" : "Show more"}
            </Button>
          </div>
        )}
      </div>
      {first && (
        <Foot
          what={what}
          passages={passages}
          hits={first.hits}
          next={found.data?.pages.at(-1)?.next ?? null}
        />
      )}
    </SidePanel>
  );
}

/** What a cell counts where it is not hits. */
const UNITS: Record<string, string> = { overlap: "place", near: "place" };

type PageOf = { form: Form; order: Order; start: number; most: number };

/** A page of the passages, wherever their number comes from. */
function page(project_id: number, what: Evidence, of: PageOf) {
  const params = { params: { path: { project_id } } };
  if (what.pair)
    return data(
      api.POST("/api/v1/projects/{project_id}/together/evidence", {
        ...params,
        body: { ...what.pair, ...of, cell: {} },
      }),
    );
  if (what.topic)
    return data(
      api.POST("/api/v1/projects/{project_id}/network/evidence", {
        ...params,
        body: { ...what.topic, ...of, cell: {} },
      }),
    );
  const body = {
    comparison: what.comparison,
    cell: what.cell ?? {},
    company: what.company ?? null,
    ...of,
  };
  return data(api.POST("/api/v1/projects/{project_id}/evidence", { ...params, body }));
}

/** The address of the concordance of what the panel shows; none for one group of a split or kind of company. */
function contextOf(what: Evidence, search: string): string | null {
  const { target } = what.comparison;
  if (what.cell?.group || what.company !== undefined || what.pair || what.topic) return null;
  const next = new URLSearchParams(search);
  for (const key of ["q", "order", "paragraph"]) next.delete(key);
  if (target.kind !== "search") return `?${searchOf(next, what)}`;
  next.delete("of");
  next.set("q", target.query);
  return `?${next}`;
}

function Foot({
  what,
  passages,
  hits,
  next,
}: {
  what: Evidence;
  passages: readonly Passage[];
  hits: number;
  next: number | null;
}) {
  const { tell, fail } = useToast();
  const project = useProjectId();
  const { search } = useLocation();
  const context = contextOf(what, search);
  const copy = () => {
    navigator.clipboard.writeText(passages.map(quote).join("\n\n")).then(
      () => tell(`${plural(passages.length, "passage")} copied with their sources.`),
      () => fail(new Error("The browser did not allow copying; select the passages and copy them by hand.")),
    );
  };
  return (
    <div className="flex items-center gap-2 border-t border-line2 bg-wash px-3.5 py-2">
      <Button onClick={copy} disabled={!passages.length}>
        Copy with sources
      </Button>
      {context && hits > 0 && (
        <Link
          to={{ pathname: `/projects/${project}/corpus/context`, search: context }}
          className="font-semibold whitespace-nowrap text-bottle hover:underline"
        >
          All in lines
        </Link>
      )}
      <span className="ml-auto text-right text-ink2">
        {what.comparison.target.kind === "numbers" ? "values" : "hits"} 1–{whole(next ?? hits)} of{" "}
        {whole(hits)}
      </span>
    </div>
  );
}

/** A passage with its origin, as it is quoted. */
export function quote(passage: Passage): string {
  return `${passage.before}${passage.text}${passage.after} (${originWords(passage)})`;
}

export function PassageItem({ passage, form }: { passage: Passage; form: Form }) {
  const project = useProjectId();
  const { search } = useLocation();
  const to = {
    pathname: `/projects/${project}/corpus/${passage.text_id}`,
    search: withParagraph(search, passage.paragraph),
  };
  if (form === "line") {
    return (
      <Link
        to={to}
        className="grid grid-cols-[1fr_auto_1fr] items-baseline gap-1 border-b border-line px-2 py-1.5 font-serif text-[13px] hover:bg-tint"
        title={originWords(passage)}
      >
        <span dir="rtl" className="overflow-hidden text-right whitespace-nowrap">
          <bdi>{passage.before}</bdi>
        </span>
        <mark>{passage.text}</mark>
        <span className="overflow-hidden whitespace-nowrap">{passage.after}</span>
      </Link>
    );
  }
  return (
    <Link to={to} className="block border-b border-line px-3.5 py-2 hover:bg-tint">
      <div className="mb-0.5 flex justify-between gap-3 text-[11.5px] text-ink2">
        <span className="truncate" title={originWords(passage)}>
          {passage.standing.speaker ? `${passage.standing.speaker}, ` : ""}
          {passage.source ?? "No source"}
        </span>
        <span className="whitespace-nowrap">
          {date(passage.date)}
          {passage.number !== null && passage.number !== undefined && (
            <b className="ml-2 text-ink">{three(passage.number)}</b>
          )}
        </span>
      </div>
      <div className="font-serif text-[14px] leading-[1.42]">
        <Marked text={passage.text} marks={passage.marks} />
      </div>
    </Link>
  );
}

function withParagraph(search: string, paragraph: number): string {
  const next = new URLSearchParams(search);
  next.set("paragraph", String(paragraph));
  return `?${next}`;
}
