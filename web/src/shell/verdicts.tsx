import { type InfiniteData, useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, data, type Schema, saveFile } from "../api/client";
import { keys } from "../data/keys";
import { useProjectId, useScope, useSummary } from "../data/project";
import { plural, whole } from "../lib/numbers";
import { Button, Failure, Kbd, Menu, Select, Swatch, Waiting } from "../parts/controls";
import { SidePanel } from "../parts/side";
import { useToast } from "../parts/toast";
import {
  type Judged,
  keyOf,
  mine,
  namesOf,
  SampleRow,
  useJudge,
  useJudgeKeys,
  type Verdict,
} from "./judging";

type Shows = NonNullable<Schema["VerdictsRequest"]["show"]>;
type Page = Schema["VerdictsPage"];

/** The verdicts behind a precision: of a category, or of one of its terms. */
export interface VerdictsOf extends Judged {
  kind: "hit" | "text";
  part: number | null;
  shows: Shows;
}

/** All verdicts, by what was said and by whom; they can be changed here as in a sample. */
export function VerdictsPanel({ what, onClose }: { what: VerdictsOf; onClose: () => void }) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const { scope } = useScope();
  const { fail } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [shows, setShows] = useState<Shows>(what.shows);
  const [judge, setJudge] = useState("");
  const [at, setAt] = useState(0);
  const path = { project_id, subject: what.subject, subject_id: what.subject_id };
  const request = useMemo(
    () => ({
      scope: [...scope],
      kind: what.kind,
      show: shows,
      part: what.part,
      judge: judge ? Number(judge) : null,
    }),
    [scope, what.kind, shows, what.part, judge],
  );
  const queryKey = useMemo(
    () => keys.review(project_id, "verdicts", what.subject, what.subject_id, request),
    [project_id, what.subject, what.subject_id, request],
  );
  const found = useInfiniteQuery({
    queryKey,
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/review/{subject}/{subject_id}/verdicts", {
          params: { path },
          body: { ...request, start: pageParam, most: 50 },
        }),
      ),
    getNextPageParam: (page) => page.next ?? undefined,
    staleTime: 0,
    gcTime: 0,
  });
  const first = found.data?.pages[0];
  const items = useMemo(() => found.data?.pages.flatMap((page) => page.items) ?? [], [found.data]);
  const current = items[at];
  const give = useJudge(
    what,
    what.kind,
    "",
    (change) =>
      client.setQueryData<InfiniteData<Page>>(
        queryKey,
        (now) =>
          now && { ...now, pages: now.pages.map((page) => ({ ...page, items: page.items.map(change) })) },
      ),
    () => client.invalidateQueries({ queryKey }),
  );
  const move = (by: number) => setAt(Math.max(0, Math.min(at + by, items.length - 1)));
  const decide = (verdict: Verdict) => {
    if (!current?.passage || !writes) return;
    give(current, verdict);
    if (verdict !== null) move(1);
  };
  useJudgeKeys(decide, move);
  const [yes, no] = namesOf(what.kind);
  const size = (one: Shows) => whole(first?.sizes[one] ?? 0);
  const choices: { value: Shows; label: string }[] = [
    { value: "all", label: `All that count (${size("all")})` },
    { value: "right", label: `${what.kind === "hit" ? "Fits" : "Missed"} (${size("right")})` },
    {
      value: "wrong",
      label: `${what.kind === "hit" ? "Does not fit" : "Correctly without"} (${size("wrong")})`,
    },
    { value: "differ", label: `Judged differently (${size("differ")})` },
    { value: "idle", label: `Not counted now (${size("idle")})` },
  ];
  const judges = [
    { value: "", label: "By anybody" },
    ...(first?.judges ?? []).map((one) => ({
      value: String(one.id),
      label: `${one.name} (${whole(one.verdicts)})`,
    })),
  ];
  const save = (form: "csv" | "xlsx") =>
    void saveFile(
      `/api/v1/projects/${project_id}/review/${what.subject}/${what.subject_id}/verdicts/export?form=${form}`,
      request,
    ).catch(fail);
  return (
    <SidePanel
      label="Verdicts"
      title={what.kind === "hit" ? "Verdicts on hits" : "Verdicts on texts without a hit"}
      close="Close verdicts"
      onClose={onClose}
      wide
      head={
        <>
          <div className="mb-2 text-ink2">
            <Swatch colour={what.colour} />
            {what.title}
          </div>
          <div className="mb-2 flex gap-2">
            <Select
              aria-label="Which verdicts"
              value={shows}
              choices={choices}
              onChange={(value) => {
                setShows(value as Shows);
                setAt(0);
              }}
            />
            <Select
              aria-label="By whom"
              value={judge}
              choices={judges}
              onChange={(value) => {
                setJudge(value);
                setAt(0);
              }}
            />
          </div>
          {writes && (
            <div className="flex flex-wrap items-center gap-x-2 text-ink2">
              <Kbd>F</Kbd> {yes} <Kbd>X</Kbd> {no} <Kbd>U</Kbd> take back <Kbd>↑</Kbd>
              <Kbd>↓</Kbd> go
            </div>
          )}
        </>
      }
    >
      <div className="min-h-0 flex-1 overflow-auto">
        {found.isPending && <Waiting what="Opening the verdicts" />}
        {found.error && (
          <div className="p-3">
            <Failure error={found.error} />
          </div>
        )}
        {first && !items.length && (
          <div className="px-3.5 py-6 text-ink2">No such verdict in this scope.</div>
        )}
        {items.map((item, n) => (
          <SampleRow
            key={keyOf(item)}
            item={item}
            kind={what.kind}
            here={n === at}
            verdict={mine(item)}
            always
            onHere={() => setAt(n)}
            onJudge={
              writes
                ? (verdict) => {
                    setAt(n);
                    give(item, verdict);
                  }
                : null
            }
          />
        ))}
        {found.hasNextPage && (
          <div className="p-3 text-center">
            <Button onClick={() => void found.fetchNextPage()} disabled={found.isFetchingNextPage}>
              {found.isFetchingNextPage ? "Reading…" : "Show more"}
            </Button>
          </div>
        )}
      </div>
      <div className="flex items-center gap-2 border-t border-line2 bg-wash px-3.5 py-2">
        <Menu
          trigger={<Button disabled={!items.length}>Export ▾</Button>}
          items={[
            { label: "One line a verdict, .csv", onSelect: () => save("csv") },
            { label: "One line a verdict, .xlsx", onSelect: () => save("xlsx") },
          ]}
        />
        <span className="ml-auto text-ink2" data-testid="verdicts-shown">
          {whole(items.length)} of {plural(first?.sizes[shows] ?? 0, "place")}
        </span>
      </div>
    </SidePanel>
  );
}
