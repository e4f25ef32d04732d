import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, type Condition, data, ProblemError, type Schema } from "../../api/client";
import { ofSearch } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useAddress, useFields, useProjectId, useScope, useSummary, useUsualSplit } from "../../data/project";
import { percent, plural, whole } from "../../lib/numbers";
import { Button, Dialog, Empty, Failure, Input, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { PassageItem, useEvidence } from "../../shell/evidence";
import { CorpusHead } from "../corpus/head";
import { Fault } from "../dictionary/fault";
import { AddTerm } from "./addterm";
import { Offers } from "./offers";
import { SetForm } from "./setform";

const EXAMPLES = [
  "lamb* AND compensat*",
  "(ewe* | lamb*) near:5 price",
  "stock AND NOT laughing stock",
  "market [0-2] price",
];

/** Search whole texts: terms joined by AND, OR, NOT; take in variants; go on from the result. */
export function Search() {
  const [kept, keep] = useAddress("q", "");
  const [typed, setTyped] = useState(kept);
  useEffect(() => {
    setTyped(kept);
  }, [kept]);
  useEffect(() => {
    const timer = setTimeout(() => typed !== kept && keep(typed), 350);
    return () => clearTimeout(timer);
  }, [typed, kept, keep]);
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="words">
          Terms as in the dictionary, joined by AND, OR, NOT over whole texts. Hits are those of the terms
          that are not ruled out, in the texts found. Ticking a variant or synonym takes it in beside its
          word.
        </About>
      </CorpusHead>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3">
        <Input
          type="search"
          aria-label="Search"
          placeholder="lamb* AND price, “vet bill” OR insur*, stock near:5 market"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && keep(typed)}
          spellCheck={false}
          maxLength={2000}
          autoFocus
          className="!border-2 !border-bottle !px-3 !py-1.5 text-[15px]"
        />
        {kept.trim() ? (
          <Result query={kept.trim()} onQuery={keep} />
        ) : (
          <Empty title="Search the texts">
            <p className="mb-2">Words and phrases, with * and ?; joined by AND, OR, NOT. For example:</p>
            <ul className="space-y-1">
              {EXAMPLES.map((one) => (
                <li key={one}>
                  <button
                    type="button"
                    onClick={() => keep(one)}
                    className="rounded bg-wash px-2 py-0.5 font-mono text-[12.5px] text-bottle hover:underline"
                  >
                    {one}
                  </button>
                </li>
              ))}
            </ul>
          </Empty>
        )}
      </div>
    </div>
  );
}

function Result({ query, onQuery }: { query: string; onQuery: (query: string) => void }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const summary = useSummary().data;
  const usual = useUsualSplit().field ?? "none";
  const [by, setBy] = useAddress("by", usual);
  const fields = useFields();
  const { show } = useEvidence();
  const body = { query, scope: [...scope], split: by === "none" ? {} : { field: by } };
  const found = useQuery({
    queryKey: keys.of(project_id, "search", summary?.revision, body),
    queryFn: ({ signal }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/search", { params: { path: { project_id } }, body, signal }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (found.error)
    return (
      <div className="mt-3">
        {found.error instanceof ProblemError && found.error.position !== null ? (
          <Fault error={found.error} term={query} />
        ) : (
          <Failure error={found.error} />
        )}
      </div>
    );
  if (!found.data) return <Waiting what="Searching" />;
  const result = found.data;
  const across = [
    ...fields.filter((field) => field.can_split).map((field) => ({ value: field.key, label: field.name })),
    { value: "none", label: "Nothing" },
  ];
  const open = (group?: string) =>
    show({
      title: group ? `“${query}” in ${group}` : `“${query}”`,
      comparison: ofSearch(query, scope, group ? body.split : {}),
      ...(group ? { cell: { group } } : {}),
    });
  const top = Math.max(
    1e-9,
    ...result.groups.map((group) => (group.of_texts ? group.texts / group.of_texts : 0)),
  );
  return (
    <div className={found.isPlaceholderData ? "opacity-60" : ""}>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <span className="mr-2 text-[15px]" data-testid="search-total">
          <b>{plural(result.texts, "text")}</b>
          {result.hits > 0 && (
            <>
              {" "}
              with <b>{plural(result.hits, "hit")}</b>
            </>
          )}
        </span>
        <Actions query={query} result={result} onRead={() => open()} />
      </div>
      <div className="mt-3 grid grid-cols-[minmax(340px,1fr)_minmax(300px,1fr)] items-start gap-5">
        <section aria-label="Results by group" className="rounded-md border border-line bg-sheet">
          <div className="flex items-center gap-2 border-b border-line2 px-3 py-1.5 font-semibold text-ink2">
            By{" "}
            <Select
              aria-label="Split by"
              value={by}
              choices={across}
              onChange={setBy}
              className="!w-[150px] font-normal"
            />
          </div>
          <table className="w-full">
            <thead className="text-ink2">
              <tr>
                <th className="px-3 py-1 text-left font-semibold">Group</th>
                <th className="px-3 py-1 text-right font-semibold">Texts</th>
                <th className="px-3 py-1 text-left font-semibold whitespace-nowrap">Share of its texts</th>
                <th className="px-3 py-1 text-right font-semibold">Hits</th>
              </tr>
            </thead>
            <tbody>
              {result.groups.map((group) => (
                <tr key={group.label} className="h-[28px] border-t border-line hover:bg-wash">
                  <td className="px-3">
                    <button
                      type="button"
                      disabled={!group.hits}
                      onClick={() => open(group.label)}
                      className="text-left font-semibold enabled:hover:underline"
                    >
                      {group.label}
                    </button>
                  </td>
                  <td className="px-3 text-right">{whole(group.texts)}</td>
                  <td className="px-3">
                    <span className="flex items-center gap-2">
                      <span
                        aria-hidden
                        className="h-[9px] rounded-[1px] bg-[var(--c1)]"
                        style={{ width: group.of_texts ? (group.texts / group.of_texts / top) * 90 : 0 }}
                      />
                      {percent(group.of_texts ? group.texts / group.of_texts : null)}{" "}
                      <span className="text-ink3">of {whole(group.of_texts)}</span>
                    </span>
                  </td>
                  <td className="px-3 text-right">{whole(group.hits)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <Offers query={query} onQuery={onQuery} />
      </div>
      {result.hits > 0 && <FirstPassages query={query} onAll={() => open()} />}
    </div>
  );
}

/** The beginning of the passages, to see at once what was found. */
function FirstPassages({ query, onAll }: { query: string; onAll: () => void }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "evidence", "first", revision, query, scope),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/evidence", {
          params: { path: { project_id } },
          body: {
            comparison: ofSearch(query, scope),
            cell: {},
            order: "date",
            form: "context",
            start: 0,
            most: 12,
          },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <section aria-label="First passages" className="mt-5 rounded-md border border-line bg-sheet">
      <div className="flex items-center gap-3 border-b border-line2 px-3.5 py-1.5">
        <b>Passages</b> <span className="text-ink2">the earliest first</span>
        <Button look="ghost" className="ml-auto" onClick={onAll}>
          All of them beside this view
        </Button>
      </div>
      <div className="columns-2 gap-0 *:break-inside-avoid">
        {found.data?.passages.map((passage, at) => (
          <PassageItem key={at} passage={passage} form="context" />
        ))}
      </div>
    </section>
  );
}

function Actions({
  query,
  result,
  onRead,
}: {
  query: string;
  result: Schema["SearchResult"];
  onRead: () => void;
}) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { scope, setScope } = useScope();
  const { tell } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [adding, setAdding] = useState<string | null>(null);
  const [naming, setNaming] = useState(false);
  const condition = { kind: "matches", query, exclude: false } as Condition;
  const context = () => {
    const next = new URLSearchParams(search);
    next.delete("of");
    next.set("q", query);
    void navigate(`/projects/${project_id}/corpus/context?${next}`);
  };
  return (
    <>
      <Button look="main" onClick={onRead} disabled={!result.hits}>
        Read the passages
      </Button>
      <Button onClick={context} disabled={!result.hits}>
        In context
      </Button>
      <Button
        onClick={() => {
          setScope([...scope, condition]);
          tell("The scope is narrowed to these texts.");
        }}
        disabled={!result.texts}
      >
        Narrow to these texts
      </Button>
      {writes && (
        <Button onClick={() => setNaming(true)} disabled={!result.texts}>
          Make a set
        </Button>
      )}
      {writes && (
        <Button
          onClick={() => setAdding(result.as_term)}
          disabled={!result.as_term}
          title={
            result.as_term
              ? undefined
              : "A search with AND or NOT speaks of whole texts; it cannot be one term."
          }
        >
          Make a term
        </Button>
      )}
      <AddTerm source={adding} onClose={() => setAdding(null)} />
      <Dialog title="Make a set of these texts" open={naming} onClose={() => setNaming(false)}>
        <SetForm condition={condition} texts={result.texts} onDone={() => setNaming(false)} />
      </Dialog>
    </>
  );
}
