import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useDeferredValue, useEffect, useRef, useState } from "react";
import { api, data, ProblemError, type Schema, saveFile } from "../../api/client";
import { keys } from "../../data/keys";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Input, Menu, Segments, Select, Swatch, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { CorpusHead } from "../corpus/head";
import { Fault } from "../dictionary/fault";
import { Company } from "./company";
import { Line } from "./line";
import { type Asked, askedFor, queryOf, useNamed } from "./what";

export type LinesRequest = Schema["LinesRequest"];
type Order = NonNullable<LinesRequest["sort"]>;

const ORDERS: readonly { value: Order; label: string }[] = [
  { value: "date", label: "date" },
  { value: "source", label: "source" },
  { value: "left1", label: "1st word left" },
  { value: "left2", label: "2nd word left" },
  { value: "left3", label: "3rd word left" },
  { value: "right1", label: "1st word right" },
  { value: "right2", label: "2nd word right" },
  { value: "right3", label: "3rd word right" },
];

export function Context() {
  const [kept, keep] = useAddress("q", "");
  const [typed, setTyped] = useState(kept);
  const [view, setView] = useAddress("as", "lines");
  const { scope } = useScope();
  const { named, drop } = useNamed();
  useEffect(() => {
    setTyped(kept);
  }, [kept]);
  useEffect(() => {
    const timer = setTimeout(() => typed !== kept && keep(typed), 500);
    return () => clearTimeout(timer);
  }, [typed, kept, keep]);
  const query = useDeferredValue(typed);
  const asked = askedFor(query, named, scope);
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="words">
          Every hit of a term, a category or a search, in its line. Sorting by a neighbouring word shows what
          the hits are said with; the counts on the right do the same in numbers. Collocates lists the words
          that stand near the hits more often than chance would have it.
        </About>
      </CorpusHead>
      <div className="flex shrink-0 items-center gap-3 px-4 py-2.5">
        {named ? (
          <span className="flex items-center gap-2 rounded-md border border-line2 bg-sheet px-2.5 py-1 text-[14px]">
            {named.colour !== undefined && <Swatch colour={named.colour} className="!mr-0" />}
            <b>{named.title}</b>
            <button
              type="button"
              aria-label="Look for something else"
              onClick={drop}
              className="px-1 text-ink2 hover:text-rust"
            >
              ×
            </button>
          </span>
        ) : (
          <Input
            type="search"
            aria-label="Term or search"
            placeholder="A term or a search: lamb*, market price, stock AND market"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            spellCheck={false}
            maxLength={2000}
            className="max-w-[460px] !py-1.5 text-[14px]"
            autoFocus={!kept}
          />
        )}
        <Segments
          label="Show"
          value={view}
          onChange={setView}
          choices={[
            { value: "lines", label: "Lines" },
            { value: "company", label: "Collocates" },
          ]}
        />
      </div>
      {!asked && (
        <Empty title="What do you want to read in context?">
          Type a word, a phrase or a search above; or choose “Read it in context” at a word, a term or a
          category.
        </Empty>
      )}
      {asked && view === "lines" && <Lines asked={asked} />}
      {asked && view === "company" && <Company asked={asked} name={named?.title ?? query.trim()} />}
    </div>
  );
}

function Lines({ asked }: { asked: Asked }) {
  const project_id = useProjectId();
  const { fail } = useToast();
  const revision = useSummary().data?.revision;
  const [sort, setSort] = useAddress("order", "right1");
  const [beside, setBeside] = useState<{ at: number; word: string } | null>(null);
  const request = {
    ...asked,
    order: "date",
    form: "line",
    start: 0,
    most: 60,
    sort: sort as Order,
    at: beside?.at ?? null,
    beside: beside?.word ?? null,
  } as LinesRequest;
  const wanted = JSON.stringify(asked);
  // biome-ignore lint/correctness/useExhaustiveDependencies: other lines have other neighbours
  useEffect(() => {
    setBeside(null);
  }, [wanted]);
  const found = useInfiniteQuery({
    queryKey: keys.of(project_id, "lines", revision, request),
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/concordance", {
          params: { path: { project_id } },
          body: { ...request, start: pageParam },
          signal,
        }),
      ),
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const error = found.error;
  const save = (form: "csv" | "xlsx") =>
    void saveFile(`/api/v1/projects/${project_id}/concordance/export?form=${form}`, request).catch(fail);
  if (error)
    return (
      <div className="px-4">
        {error instanceof ProblemError && error.position !== null ? (
          <Fault error={error} term={queryOf(asked)} />
        ) : (
          <Failure error={error} />
        )}
      </div>
    );
  if (found.isPending) return <Waiting what="Finding the hits" />;
  const first = found.data.pages[0]!;
  const passages = found.data.pages.flatMap((page) => page.passages);
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 px-4 pb-2">
          <span data-testid="lines-total">
            <b>{plural(first.hits, "hit")}</b> in {plural(first.texts, "text")}
          </span>
          <label className="flex items-center gap-1.5 text-ink2">
            sorted by{" "}
            <Select
              aria-label="Sorted by"
              value={sort}
              choices={ORDERS}
              onChange={setSort}
              className="!w-[128px]"
            />
          </label>
          {beside && (
            <span className="flex items-center gap-1 rounded bg-tint px-2 py-0.5 text-bottle">
              {Math.abs(beside.at)}. to the {beside.at < 0 ? "left" : "right"}: <b>{beside.word}</b>
              <button
                type="button"
                aria-label="Show all lines again"
                onClick={() => setBeside(null)}
                className="px-1 hover:text-rust"
              >
                ×
              </button>
            </span>
          )}
          <span className="ml-auto">
            <Menu
              trigger={<Button>Export ▾</Button>}
              items={[
                { label: "Lines as .csv", onSelect: () => save("csv") },
                { label: "Lines as .xlsx", onSelect: () => save("xlsx") },
              ]}
            />
          </span>
        </div>
        {first.hits === 0 ? (
          <Empty title="No hits">Nothing in this scope has it.</Empty>
        ) : (
          <LineList
            key={`${wanted}${sort}${beside?.at}${beside?.word}`}
            passages={passages}
            total={first.hits}
            faint={found.isPlaceholderData}
            more={() => found.hasNextPage && !found.isFetchingNextPage && void found.fetchNextPage()}
          />
        )}
      </div>
      <Neighbours
        request={request}
        sort={sort}
        onPick={(at, word) => setBeside({ at, word })}
        picked={beside}
      />
    </div>
  );
}

function LineList({
  passages,
  total,
  faint,
  more,
}: {
  passages: readonly Schema["PassagePublic"][];
  total: number;
  faint: boolean;
  more: () => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: passages.length,
    getScrollElement: () => box.current,
    estimateSize: () => 30,
    overscan: 15,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (last >= passages.length - 15 && passages.length < total) more();
  }, [last, passages.length, total, more]);
  return (
    <div
      ref={box}
      role="list"
      aria-label="Lines"
      className={`mx-4 mb-3 min-h-0 flex-1 overflow-auto rounded-md border border-line bg-sheet ${faint ? "opacity-60" : ""}`}
    >
      <div style={{ height: virtual.getTotalSize() }} className="relative">
        {items.map((item) => {
          const passage = passages[item.index]!;
          return (
            <div
              role="listitem"
              key={`${passage.text_id}.${passage.start}`}
              ref={virtual.measureElement}
              data-index={item.index}
              className="absolute right-0 left-0 border-b border-line"
              style={{ top: item.start }}
            >
              <Line passage={passage} />
            </div>
          );
        })}
      </div>
    </div>
  );
}

const OFFSETS = [-3, -2, -1, 1, 2, 3];

/** Which words stand at one place beside the hits, counted; a click keeps the lines with one. */
function Neighbours({
  request,
  sort,
  picked,
  onPick,
}: {
  request: LinesRequest;
  sort: string;
  picked: { at: number; word: string } | null;
  onPick: (at: number, word: string) => void;
}) {
  const project_id = useProjectId();
  const sorted = /^(left|right)(\d)$/.exec(sort);
  const bySort = sorted ? Number(sorted[2]) * (sorted[1] === "left" ? -1 : 1) : 1;
  const [chosen, setChosen] = useState<number | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another order shows its own neighbour
  useEffect(() => {
    setChosen(null);
  }, [sort]);
  const offset = chosen ?? bySort;
  const asked = { ...request, at: null, beside: null, sort: "date" as const };
  const found = useQuery({
    queryKey: keys.of(project_id, "neighbours", asked, offset),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/concordance/neighbours", {
          params: { path: { project_id }, query: { offset, most: 60 } },
          body: asked,
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const top = found.data?.words[0]?.hits ?? 1;
  return (
    <section
      aria-label="Neighbouring words"
      className="flex w-[252px] shrink-0 flex-col border-l border-line2 bg-sheet"
    >
      <div className="border-b border-line px-3 py-2.5">
        <b>Neighbouring words</b>
        <div className="mt-1.5">
          <Segments
            label="Place beside the hit"
            value={String(offset)}
            onChange={(value) => setChosen(Number(value))}
            choices={OFFSETS.map((at) => ({ value: String(at), label: at < 0 ? `−${-at}` : `+${at}` }))}
          />
        </div>
        {found.data && (
          <div className="mt-1.5 text-ink2">
            {plural(found.data.different, "different word")}, {Math.abs(offset)}. to the{" "}
            {offset < 0 ? "left" : "right"}
          </div>
        )}
      </div>
      <ul className="min-h-0 flex-1 overflow-auto py-1">
        {(found.data?.words ?? []).map((one) => (
          <li key={one.word}>
            <button
              type="button"
              aria-pressed={picked?.word === one.word && picked.at === offset}
              onClick={() => onPick(offset, one.word)}
              className={`relative flex w-full items-baseline gap-2 px-3 py-0.5 text-left hover:bg-wash ${picked?.word === one.word && picked.at === offset ? "bg-tint font-bold" : ""}`}
            >
              <span
                aria-hidden
                className="absolute inset-y-[3px] left-0 bg-straw opacity-60"
                style={{ width: `${(one.hits / top) * 62}%` }}
              />
              <span className="relative truncate">{one.word}</span>
              <span className="relative ml-auto text-ink2">{whole(one.hits)}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
