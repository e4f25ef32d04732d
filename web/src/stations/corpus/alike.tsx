import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useProjectId, useSummary } from "../../data/project";
import { date, plural, whole } from "../../lib/numbers";
import { Button, Dialog, Empty, Failure, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";

type Group = Schema["AlikeGroup"];
type Way = Schema["SettleGroups"]["way"];
const PAGE = 20;

/** Groups of texts that repeat, each with what is to become of it. */
export function AlikeGroups({ kind, found }: { kind: "near" | "same"; found: Schema["CheckPublic"] }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const summary = useSummary().data;
  const writes = summary?.role !== "reader";
  const [start, setStart] = useState(0);
  const groups = useQuery({
    queryKey: keys.of(project_id, "check", "groups", kind, start, found.made_at, summary?.revision),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/check/groups", {
          params: { path: { project_id }, query: { kind, start, most: PAGE } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const settle = useChange(
    (body: { groups: number[] | null; way: Way }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/check/groups", {
          params: { path: { project_id } },
          body: { kind, ...body },
        }),
      ),
    (out) => tell(`${out.label}. ${plural(out.texts, "text")} changed; undo takes it back.`),
    "values",
  );
  if (groups.isPending) return <Waiting what="Reading" />;
  if (groups.error) return <Failure error={groups.error} />;
  if (!groups.data.total)
    return (
      <Empty title="No texts repeat">
        {kind === "near"
          ? `No two texts have ${Math.round(found.threshold * 100)}% or more of their sequences of five words in common.`
          : "No two texts are identical."}
      </Empty>
    );
  const open = groups.data.groups.filter((group) => !settled(group)).length;
  return (
    <div className="max-w-[900px]">
      <div className="mb-2.5 flex items-center gap-3">
        <h2 className="text-[14px] font-[650]">
          {plural(groups.data.total, "group")},{" "}
          {plural(kind === "near" ? found.near_texts : found.same_texts, "text")}
        </h2>
        {writes && open > 0 && (
          <Button disabled={settle.isPending} onClick={() => settle.mutate({ groups: null, way: "once" })}>
            Count all open groups once
          </Button>
        )}
      </div>
      {groups.data.groups.map((group) => (
        <Card
          key={group.group}
          group={group}
          writes={writes}
          onSettle={(way) => settle.mutate({ groups: [group.group], way })}
        />
      ))}
      {groups.data.total > PAGE && (
        <div className="flex items-center gap-2 pb-4">
          <Button disabled={start === 0} onClick={() => setStart(start - PAGE)}>
            Earlier
          </Button>
          <span className="text-ink2">
            {whole(start + 1)} to {whole(Math.min(start + PAGE, groups.data.total))} of{" "}
            {whole(groups.data.total)}
          </span>
          <Button disabled={start + PAGE >= groups.data.total} onClick={() => setStart(start + PAGE)}>
            Later
          </Button>
        </div>
      )}
    </div>
  );
}

const settled = (group: Group) => group.kept || group.texts.some((one) => one.aside);

function state(group: Group): Way | null {
  const aside = group.texts.filter((one) => one.aside).length;
  if (aside === group.texts.length) return "aside";
  if (aside > 0) return "once";
  return group.kept ? "all" : null;
}

const WAYS: { way: Way; label: string; hint: string }[] = [
  { way: "all", label: "Keep all", hint: "All of them count" },
  { way: "once", label: "Count once", hint: "The earliest counts, the others are excluded" },
  { way: "aside", label: "Exclude", hint: "None of them counts" },
];

function Card({ group, writes, onSettle }: { group: Group; writes: boolean; onSettle: (way: Way) => void }) {
  const project = useProjectId();
  const { search } = useLocation();
  const [shown, setShown] = useState<number | null>(null);
  const first = group.texts[0]!;
  const now = state(group);
  const chars = new Set(group.texts.map((one) => one.text.source)).size;
  return (
    <section className="mb-3 rounded-md border border-line bg-sheet px-3.5 py-2.5" data-testid="alike-group">
      <div className="mb-1 flex items-center gap-2">
        <b>
          {plural(group.texts.length, "text")}
          {chars > 1 ? ` from ${plural(chars, "source")}` : ""}
        </b>
        <span className={now ? "text-ink2" : "text-rust"}>
          {now ? WAYS.find((one) => one.way === now)!.hint.toLowerCase() : "open"}
        </span>
        {writes && (
          <span
            className="ml-auto inline-flex overflow-hidden rounded-[5px] border border-line2"
            role="radiogroup"
            aria-label="What becomes of the group"
          >
            {WAYS.map((one) => (
              <button
                key={one.way}
                type="button"
                role="radio"
                aria-checked={now === one.way}
                title={one.hint}
                onClick={() => onSettle(one.way)}
                className={`border-r border-line px-2.5 py-0.5 last:border-0 ${now === one.way ? "bg-tint font-bold text-bottle" : "text-ink2 hover:bg-wash"}`}
              >
                {one.label}
              </button>
            ))}
          </span>
        )}
      </div>
      <ul>
        {group.texts.map((one, at) => (
          <li
            key={one.text.id}
            className={`flex items-baseline gap-3 py-0.5 ${one.aside ? "text-ink3" : ""}`}
          >
            <span className="w-[46px] shrink-0 text-right text-ink2">
              {at === 0 ? "first" : `${Math.round(one.alike * 100)}%`}
            </span>
            <Link
              to={`/projects/${project}/corpus/${one.text.id}${search}`}
              className="min-w-0 flex-1 truncate font-medium hover:underline"
            >
              {one.text.title}
            </Link>
            <span className="w-[120px] shrink-0 truncate">{one.text.source}</span>
            <span className="w-[84px] shrink-0 text-right">{date(one.text.date)}</span>
            <span className="w-[64px] shrink-0 text-right">{whole(one.text.words)}</span>
            <span className="w-[96px] shrink-0 text-right">
              {at > 0 && one.alike < 1 && (
                <Button look="ghost" onClick={() => setShown(one.text.id)}>
                  Differences
                </Button>
              )}
              {one.aside && at === 0 ? "excluded" : ""}
            </span>
          </li>
        ))}
      </ul>
      <Dialog
        open={shown !== null}
        title={`What differs from “${first.text.title}”`}
        onClose={() => setShown(null)}
        wide
      >
        {shown !== null && <Differences first={first.text.id} second={shown} />}
      </Dialog>
    </section>
  );
}

function Differences({ first, second }: { first: number; second: number }) {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "differences", first, second),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/check/differences", {
          params: { path: { project_id }, query: { first, second } },
        }),
      ),
  });
  if (found.error) return <Failure error={found.error} />;
  if (!found.data) return <Waiting what="Comparing" />;
  return (
    <div>
      <p className="mb-2 text-ink2">
        Struck out: only in the first. <ins className="bg-straw text-onstraw no-underline">Marked</ins>: only
        in this one.{found.data.whole ? "" : " Only the beginnings were compared; the texts are very long."}
      </p>
      <div className="max-h-[58vh] overflow-auto font-serif text-[15px] leading-[1.55] whitespace-pre-line">
        {found.data.parts.map((part, at) =>
          part.kind === "same" ? (
            <span key={at}>{part.text}</span>
          ) : part.kind === "removed" ? (
            <del key={at} className="text-rust">
              {part.text}
            </del>
          ) : (
            <ins key={at} className="bg-straw text-onstraw no-underline">
              {part.text}
            </ins>
          ),
        )}
      </div>
    </div>
  );
}
