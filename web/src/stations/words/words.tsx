import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema, saveFile } from "../../api/client";
import { ofTerms } from "../../data/comparison";
import { keys } from "../../data/keys";
import {
  useAddress,
  useChange,
  useFields,
  useProjectId,
  useScope,
  useSummary,
  useUsualSplit,
} from "../../data/project";
import { whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { languageName, term } from "../../lib/terms";
import {
  Button,
  Empty,
  Failure,
  Field,
  Input,
  Menu,
  Popover,
  Segments,
  Select,
  Waiting,
} from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { CorpusHead } from "../corpus/head";
import { AddTerm } from "./addterm";
import { Cloud } from "./cloud";
import { StopList } from "./stoplist";
import { WordTable } from "./wordtable";

export type WordRow = Schema["WordRow"];
export type WordsRequest = Schema["WordsRequest"];
type Sort = NonNullable<WordsRequest["sort"]>;

const UNITS = [
  { value: "word", label: "Words" },
  { value: "phrase", label: "Phrases" },
  { value: "hashtag", label: "Hashtags" },
  { value: "mention", label: "Mentions" },
  { value: "emoji", label: "Emoji" },
];
const MERGE = [
  { value: "none", label: "As written" },
  { value: "lemma", label: "By lemma" },
  { value: "stem", label: "By stem" },
];

/** What is listed, all of it in the address. */
function useListed() {
  const { scope } = useScope();
  const [unit, setUnit] = useAddress("unit", "word");
  const [length, setLength] = useAddress("length", "2");
  const [merge, setMerge] = useAddress("forms", "none");
  const [stop, setStop] = useAddress("stop", "on");
  const usual = useUsualSplit().field ?? "none";
  const [by, setBy] = useAddress("by", usual);
  const [least, setLeast] = useAddress("least", "1.1.1");
  const [sort, setSort] = useAddress("order", "hits");
  const [find, setFind] = useState("");
  const [hits, texts, chars] = least.split(".").map((one) => Math.max(1, Number(one) || 1));
  const sorting = sort.replace(/^-/, "");
  const request: WordsRequest = {
    scope: [...scope],
    split: by === "none" ? {} : { field: by },
    unit: unit === "phrase" ? "phrase" : "word",
    length: Number(length),
    kinds: unit === "word" ? ["word", "number"] : unit === "phrase" ? [] : [unit as "hashtag"],
    merge: unit === "word" ? (merge as "none") : "none",
    stop: stop === "on",
    least_hits: unit === "phrase" ? Math.max(hits!, 2) : hits!,
    least_texts: texts!,
    least_chars: chars!,
    find,
    sort: (sorting.startsWith("in:") ? "group" : sorting) as Sort,
    group: sorting.startsWith("in:") ? sorting.slice(3) : null,
    descending: !sort.startsWith("-"),
    start: 0,
    most: 100,
  };
  return {
    request,
    unit,
    setUnit,
    length,
    setLength,
    merge,
    setMerge,
    stop,
    setStop,
    by,
    setBy,
    least: [hits!, texts!, chars!],
    setLeast,
    sort,
    setSort,
    find,
    setFind,
  };
}

export function Words() {
  const project_id = useProjectId();
  const listed = useListed();
  const [view, setView] = useAddress("as", "list");
  const [adding, setAdding] = useState<string | null>(null);
  const [stopping, setStopping] = useState(false);
  const summary = useSummary().data;
  const fields = useFields();
  const { show } = useEvidence();
  const { tell, fail } = useToast();
  const { scope } = useScope();
  const writes = summary?.role !== "reader";
  const request = useSettled(listed.request, 150);
  const settings = useQuery({
    queryKey: keys.of(project_id, "words", "settings"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/words/settings", { params: { path: { project_id } } })),
  });
  const found = useInfiniteQuery({
    queryKey: keys.of(project_id, "words", summary?.revision, request, settings.data),
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/words", {
          params: { path: { project_id } },
          body: { ...request, start: pageParam },
          signal,
        }),
      ),
    getNextPageParam: (page) =>
      page.start + page.rows.length < page.total ? page.start + page.rows.length : undefined,
    placeholderData: keepPreviousData,
    enabled: settings.data !== undefined,
    retry: false,
  });
  const stopWord = useChange(
    (forms: readonly string[]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/words/stop-list", {
          params: { path: { project_id } },
          body: { forms: [...forms], listed: true },
        }),
      ),
    (_, forms) => tell(`“${forms[0]}” is on the stop list now. Undo takes it off.`),
    "word lists",
  );
  const open = (row: WordRow, group?: string) =>
    show({
      title: group ? `“${row.name}” in ${group}` : `“${row.name}”`,
      comparison: ofTerms([term(row.term)], scope, group ? (request.split ?? {}) : {}),
      ...(group ? { cell: { group } } : {}),
    });
  const first = found.data?.pages[0];
  const rows = found.data?.pages.flatMap((page) => page.rows) ?? [];
  const save = (form: "csv" | "xlsx") =>
    void saveFile(`/api/v1/projects/${project_id}/words/export?form=${form}`, request).catch(fail);
  const across = [
    ...fields.filter((field) => field.can_split).map((field) => ({ value: field.key, label: field.name })),
    { value: "none", label: "Nothing" },
  ];
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="words">
          Each row is a word or a phrase of the scope, case ignored. The small columns show where it falls; a
          click on one opens its passages. Words of the stop list are left out.
        </About>
      </CorpusHead>
      <div className="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-2 px-4 py-2.5">
        <Segments label="What is listed" value={listed.unit} onChange={listed.setUnit} choices={UNITS} />
        {listed.unit === "phrase" && (
          <Segments
            label="Words in a phrase"
            value={listed.length}
            onChange={listed.setLength}
            choices={["2", "3", "4", "5"].map((n) => ({ value: n, label: n }))}
          />
        )}
        {listed.unit === "word" && (
          <Segments
            label="Forms"
            value={listed.merge}
            onChange={listed.setMerge}
            choices={MERGE.map((one) => ({
              ...one,
              disabled:
                one.value !== "none" &&
                first !== undefined &&
                !first.can_merge.includes(one.value as "lemma"),
            }))}
          />
        )}
        <label className="flex items-center gap-1.5 text-ink2">
          by{" "}
          <Select
            aria-label="Split by"
            value={listed.by}
            choices={across}
            onChange={listed.setBy}
            className="!w-[120px]"
          />
        </label>
        <span className="flex items-center gap-1">
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={listed.stop === "on"}
              onChange={(event) => listed.setStop(event.target.checked ? "on" : "off")}
            />{" "}
            Stop list
          </label>
          <Button look="ghost" onClick={() => setStopping(true)}>
            edit
          </Button>
        </span>
        <Limits least={listed.least} onChange={listed.setLeast} phrase={listed.unit === "phrase"} />
      </div>
      <div className="flex shrink-0 items-center gap-3 px-4 pb-2">
        <Input
          type="search"
          aria-label="Find in the list"
          placeholder="Find in the list: lamb, *ing"
          value={listed.find}
          onChange={(event) => listed.setFind(event.target.value)}
          className="max-w-[240px]"
        />
        {first && (
          <span className="text-ink2" data-testid="words-total">
            {whole(first.total)}{" "}
            {listed.unit === "phrase"
              ? "phrases"
              : listed.unit === "word"
                ? "words"
                : UNITS.find((one) => one.value === listed.unit)!.label.toLowerCase()}{" "}
            in {whole(first.texts_in_scope)} texts
            {listed.unit === "word" && listed.merge !== "none"
              ? `, forms as in ${languageName(first.language)}`
              : ""}
          </span>
        )}
        <span className="ml-auto flex items-center gap-2">
          <Segments
            label="Show as"
            value={view}
            onChange={setView}
            choices={[
              { value: "list", label: "List" },
              { value: "cloud", label: "Cloud" },
            ]}
          />
          <Menu
            trigger={<Button>Export ▾</Button>}
            items={[
              { label: "Numbers as .csv", onSelect: () => save("csv") },
              { label: "Numbers as .xlsx", onSelect: () => save("xlsx") },
            ]}
          />
        </span>
      </div>
      {found.error && (
        <div className="px-4">
          <Failure error={found.error} />
        </div>
      )}
      {found.isPending && !found.error && (
        <Waiting what={listed.unit === "phrase" ? "Counting phrases" : "Counting words"} />
      )}
      {first && first.total === 0 && !found.error && (
        <Empty title="Nothing to list">
          {listed.find
            ? "No word of the list has these letters."
            : "No word of this scope fits the limits. Lower them, or leave out fewer words."}
        </Empty>
      )}
      {first && first.total > 0 && view === "list" && (
        <WordTable
          rows={rows}
          groups={first.groups}
          total={first.total}
          sort={listed.sort}
          onSort={listed.setSort}
          onOpen={open}
          onAdd={writes ? (row) => setAdding(row.term) : null}
          onStop={
            writes
              ? (row) => stopWord.mutate(row.forms.length ? row.forms.map((one) => one.form) : [row.name])
              : null
          }
          phrase={listed.unit === "phrase"}
          faint={found.isPlaceholderData}
          more={() => found.hasNextPage && !found.isFetchingNextPage && void found.fetchNextPage()}
        />
      )}
      {first && first.total > 0 && view === "cloud" && (
        <Cloud request={request} groups={first.groups} onOpen={open} />
      )}
      <AddTerm source={adding} onClose={() => setAdding(null)} />
      {settings.data && (
        <StopList
          open={stopping}
          settings={settings.data}
          writes={writes}
          onClose={() => setStopping(false)}
        />
      )}
    </div>
  );
}

function Limits({
  least,
  onChange,
  phrase,
}: {
  least: readonly number[];
  onChange: (value: string) => void;
  phrase: boolean;
}) {
  const set = (at: number, value: string) =>
    onChange(least.map((one, n) => (n === at ? Math.max(1, Number(value) || 1) : one)).join("."));
  const said = [
    least[0]! > 1 ? `${least[0]} hits` : "",
    least[1]! > 1 ? `${least[1]} texts` : "",
    least[2]! > 1 ? `${least[2]} letters` : "",
  ].filter(Boolean);
  return (
    <Popover
      width={250}
      trigger={<Button>{said.length ? `At least ${said.join(", ")}` : "Limits"} ▾</Button>}
    >
      {["Hits, at least", "Texts, at least", "Letters, at least"].map((label, at) => (
        <Field
          key={label}
          label={label}
          hint={at === 0 && phrase ? "Phrases are listed from two hits on." : undefined}
        >
          {(id) => (
            <Input
              id={id}
              type="number"
              min={1}
              value={least[at]}
              onChange={(event) => set(at, event.target.value)}
            />
          )}
        </Field>
      ))}
    </Popover>
  );
}
