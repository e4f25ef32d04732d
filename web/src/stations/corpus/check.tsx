import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, type Condition, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useAddress, useChange, useProjectId, useScope, useSummary } from "../../data/project";
import { useVariables } from "../../data/variables";
import { date, percent, plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { JobProgress, useJob } from "../../shell/jobs";
import { AlikeGroups } from "./alike";
import { Calendar } from "./calendar";
import { CorpusHead } from "./head";
import { Languages } from "./languages";

type Found = Schema["CheckPublic"];
type Part = "overview" | "near" | "same" | "damaged" | "language";

function useCheck() {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  return useQuery({
    queryKey: keys.of(project_id, "check", revision),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/check", { params: { path: { project_id } } })),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
}

/** What may be wrong with the texts, and what can be done about each. */
export function CheckView() {
  const found = useCheck();
  const [part, setPart] = useAddress("part", "overview");
  const texts = useSummary().data?.texts;
  if (texts === 0)
    return (
      <div className="flex h-full flex-col">
        <CorpusHead />
        <Empty title="Nothing to check yet">
          The check looks for texts that repeat, are empty, damaged or in another language, and for missing
          values. Import texts first.
        </Empty>
      </div>
    );
  const items: { part: Part; label: string; count: number | null }[] = [
    { part: "overview", label: "Overview", count: null },
    { part: "near", label: "Near-duplicates", count: found.data?.near_groups ?? 0 },
    { part: "same", label: "Identical", count: found.data?.same_groups ?? 0 },
    { part: "damaged", label: "Damaged characters", count: found.data?.damaged ?? 0 },
    { part: "language", label: "Languages", count: found.data?.languages.length ?? 0 },
  ];
  const ready = found.data?.state === "ready";
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="corpus">
          Texts are compared by the share of sequences of five words they have in common. The language is
          identified from the letters; short texts are left open. Nothing is changed until you say so, and
          undo takes it back.
        </About>
      </CorpusHead>
      <div className="flex min-h-0 flex-1">
        <nav
          aria-label="Parts of the check"
          className="w-[210px] shrink-0 overflow-auto border-r border-line2 bg-wash py-2"
        >
          {items.map((item) => (
            <button
              key={item.part}
              type="button"
              aria-current={part === item.part}
              disabled={item.part !== "overview" && !ready}
              onClick={() => setPart(item.part)}
              className={`flex w-full justify-between px-4 py-1.5 text-left disabled:opacity-50 ${part === item.part ? "bg-tint font-semibold text-bottle" : "hover:bg-line/50"}`}
            >
              {item.label}
              {item.count !== null && ready && (
                <span className={item.part !== "language" && item.count ? "text-rust" : "text-ink2"}>
                  {whole(item.count)}
                </span>
              )}
            </button>
          ))}
        </nav>
        <div className="min-w-0 flex-1 overflow-auto px-5 py-3">
          {found.isPending && <Waiting what="Reading" />}
          {found.error && <Failure error={found.error} />}
          {found.data && (
            <>
              <Start found={found.data} />
              {(part === "overview" || !ready) && <Overview found={found.data} />}
              {ready && (part === "near" || part === "same") && (
                <AlikeGroups key={part} kind={part} found={found.data} />
              )}
              {ready && part === "damaged" && <Damaged />}
              {ready && part === "language" && <Languages found={found.data} />}
            </>
          )}
        </div>
      </div>
    </div>
  );
}

function Start({ found }: { found: Found }) {
  const project_id = useProjectId();
  const writes = useSummary().data?.role !== "reader";
  const [threshold, setThreshold] = useState(String(found.threshold));
  const [jobId, setJobId] = useState<number | null>(null);
  const start = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/check", {
          params: { path: { project_id } },
          body: { threshold: Number(threshold) },
        }),
      ),
    (job) => setJobId(job.id),
  );
  const job = useJob(jobId ?? found.job_id);
  if (job && (job.state === "queued" || job.state === "running"))
    return (
      <section className="mb-4 max-w-[560px] rounded-md border border-line bg-sheet p-3.5">
        <JobProgress job={job} />
      </section>
    );
  const words =
    found.state === "ready"
      ? `Checked ${date(found.made_at?.slice(0, 10))}: ${plural(found.texts, "text")}.`
      : found.state === "stale"
        ? "Texts came or changed since the last check."
        : "These texts were not checked yet.";
  return (
    <section className="mb-4 flex flex-wrap items-center gap-3">
      <span className={found.state === "ready" ? "text-ink2" : "text-rust"}>{words}</span>
      {job?.state === "failed" && (
        <span role="alert" className="text-rust">
          {job.message}
        </span>
      )}
      {writes && (
        <>
          <label className="flex items-center gap-1.5 text-ink2">
            Near-duplicates from{" "}
            <Select
              value={threshold}
              onChange={setThreshold}
              choices={["0.5", "0.6", "0.7", "0.8", "0.9"].map((value) => ({
                value,
                label: `${Number(value) * 100}% in common`,
              }))}
              className="w-auto!"
            />
          </label>
          <Button
            look={found.state === "ready" ? "plain" : "main"}
            disabled={start.isPending}
            onClick={() => start.mutate(undefined)}
          >
            {found.state === "ready" ? "Check again" : "Check the corpus"}
          </Button>
        </>
      )}
    </section>
  );
}

function Overview({ found }: { found: Found }) {
  const { scope, setScope } = useScope();
  const navigate = useNavigate();
  const project = useProjectId();
  const aside = useVariables().find((one) => one.role === "aside");
  const open = (condition: object) => {
    setScope([...scope, condition as Condition]);
    setTimeout(() => navigate(`/projects/${project}/corpus${window.location.search}`));
  };
  return (
    <div className="max-w-[940px]">
      <div className="mb-5 grid grid-cols-4 gap-3">
        <Tile
          name="without words"
          texts={found.empty}
          onOpen={() => open({ kind: "numbers", field: "words", low: 0, high: 0, exclude: false })}
        >
          empty or placeholders to fill
        </Tile>
        <Tile
          name="tiny"
          texts={found.tiny}
          onOpen={() =>
            open({ kind: "numbers", field: "words", low: 1, high: found.tiny_words - 1, exclude: false })
          }
        >
          fewer than {found.tiny_words} words
        </Tile>
        <Tile
          name="excluded"
          texts={found.aside}
          onOpen={() =>
            aside &&
            open({
              kind: "values",
              field: aside.key,
              values: aside.values.map((value) => value.label),
              exclude: false,
            })
          }
        >
          counted nowhere until brought back
        </Tile>
        <Tile name="in repeated texts" texts={found.near_texts}>
          {found.state === "ready"
            ? `${plural(found.near_groups, "group")} of near-duplicates`
            : "known after the check"}
        </Tile>
      </div>
      <h2 className="mb-1 text-[14px] font-[650]">Texts by month and source</h2>
      <p className="mb-2 text-ink2">
        Darker is more. A click narrows the scope to that source and time; gaps are where a delivery may be
        missing.
      </p>
      <Calendar />
      <h2 className="mt-5 mb-1.5 text-[14px] font-[650]">Missing values</h2>
      {!found.missing.length && <p className="text-ink2">Every text has a value in every variable.</p>}
      <ul className="grid max-w-[720px] grid-cols-2 gap-x-8">
        {found.missing.map((gap) => (
          <li key={gap.key} className="flex items-center gap-2 border-b border-line py-1">
            <button
              type="button"
              onClick={() => open({ kind: "values", field: gap.key, values: [null], exclude: false })}
              className="min-w-0 flex-1 truncate text-left hover:underline"
            >
              {gap.name}
            </button>
            <span className="text-ink2">{percent(gap.texts / Math.max(found.texts, 1))}</span>
            <span className="w-[60px] text-right">{whole(gap.texts)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Tile({
  name,
  texts,
  children,
  onOpen,
}: {
  name: string;
  texts: number;
  children: ReactNode;
  onOpen?: () => void;
}) {
  const inside = (
    <>
      <div className={`text-[17px] font-[650] ${texts ? "" : "text-ink2"}`}>{whole(texts)}</div>
      <div className="font-semibold">{name}</div>
      <div className="text-ink2">{children}</div>
    </>
  );
  const look =
    "flex flex-col items-start justify-start rounded-md border border-line bg-sheet px-3.5 py-2.5 text-left";
  return onOpen && texts ? (
    <button type="button" onClick={onOpen} className={`${look} hover:border-bottle`}>
      {inside}
    </button>
  ) : (
    <div className={look}>{inside}</div>
  );
}

function Damaged() {
  const project_id = useProjectId();
  const { search } = useLocation();
  const { tell } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "check", revision, "damaged"),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/check/damaged", {
          params: { path: { project_id }, query: { start: 0, most: 100 } },
        }),
      ),
  });
  const repair = useChange(
    (ids: number[] | null) =>
      data(
        api.POST("/api/v1/projects/{project_id}/check/repair", {
          params: { path: { project_id } },
          body: { ids },
        }),
      ),
    (out) => tell(`${plural(out.texts, "text")} repaired. Each keeps its state before; undo takes it back.`),
  );
  if (found.isPending) return <Waiting what="Reading" />;
  if (found.error) return <Failure error={found.error} />;
  if (!found.data.total)
    return (
      <Empty title="No damaged characters">
        Letters that were read in a wrong encoding, or escaped for a web page, would be listed here with a
        proposed repair.
      </Empty>
    );
  const mendable = found.data.rows.filter((row) => row.can_repair);
  return (
    <div className="max-w-[860px]">
      <div className="mb-2 flex items-center gap-3">
        <h2 className="text-[14px] font-[650]">{plural(found.data.total, "text")} with damaged characters</h2>
        {writes && mendable.length > 0 && (
          <Button look="main" disabled={repair.isPending} onClick={() => repair.mutate(null)}>
            Repair all
          </Button>
        )}
      </div>
      <ul className="rounded-md border border-line bg-sheet">
        {found.data.rows.map((row) => (
          <li
            key={row.text.id}
            className="flex items-center gap-3 border-b border-line px-3 py-1.5 last:border-0"
          >
            <Link
              to={`/projects/${project_id}/corpus/${row.text.id}${search}`}
              className="w-[240px] shrink-0 truncate font-medium hover:underline"
            >
              {row.text.title}
            </Link>
            <span className="min-w-0 flex-1 truncate font-serif text-[14px]">
              {row.before.map((old, at) => (
                <span key={old} className="mr-3">
                  <del className="text-rust">{old}</del> <ins className="no-underline">{row.after[at]}</ins>
                </span>
              ))}
              {row.lost > 0 && (
                <span className="font-sans text-[12.5px] text-ink2">
                  {plural(row.lost, "character")} lost for good; correct by hand
                </span>
              )}
            </span>
            {writes && row.can_repair && <Button onClick={() => repair.mutate([row.text.id])}>Repair</Button>}
          </li>
        ))}
      </ul>
    </div>
  );
}
