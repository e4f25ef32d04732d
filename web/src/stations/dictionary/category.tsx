import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { ofDictionary, searchOf } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useRateUnit } from "../../data/measures";
import {
  useAddress,
  useChange,
  useFields,
  useProjectId,
  useScope,
  useSummary,
  useUsualSplit,
} from "../../data/project";
import { percent, whole } from "../../lib/numbers";
import { splitName } from "../../lib/split";
import { Button, Dialog, Failure, Field, Input, Menu, Popover, Swatch } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { DrawSample } from "./draw";
import { TermEntry } from "./entry";
import { Quality } from "./quality";
import { SplitForm } from "./split";
import { Suggestions } from "./suggestions";
import { TermRow, WHERE_WIDE } from "./termrow";

type Category = Schema["CategoryPublic"];
type Term = Schema["TermPublic"];
type SortKey = "term" | "hits" | "texts" | "evenness" | "quality";

interface Props {
  dictionary: Schema["DictionaryTree"];
  category: Category;
  counts: Schema["DictionaryCounts"] | undefined;
  care: Schema["CarePublic"] | undefined;
  writes: boolean;
}

export function CategoryView({ dictionary, category, counts, care, writes }: Props) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { show, judge } = useEvidence();
  const { tell } = useToast();
  const navigate = useNavigate();
  const { search } = useLocation();
  const [describing, setDescribing] = useState(false);
  const [splitting, setSplitting] = useState(false);
  const [drawing, setDrawing] = useState<{ kind: "hit" | "text"; term: Term | null } | null>(null);
  const own = counts?.categories.find((one) => one.id === category.id);
  const revision = useSummary().data?.revision;
  const path = { path: { project_id, dictionary_id: dictionary.id, category_id: category.id } };
  const terms = category.terms.map((term) => `${term.id}:${term.revision}`).join();
  const split = useUsualSplit();
  const body = { scope: [...scope], split };
  const profiles = useQuery({
    queryKey: keys.of(project_id, "profile", revision, dictionary.id, category.id, terms, body),
    queryFn: () =>
      data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/profile",
          { params: path, body },
        ),
      ),
    placeholderData: (before) => before,
  });
  const quality = useQuery({
    queryKey: keys.of(project_id, "quality", revision, dictionary.id, category.id, terms, body),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/review/{subject}/{subject_id}/quality", {
          params: { path: { project_id, subject: "category", subject_id: category.id } },
          body: { scope: [...scope] },
        }),
      ),
    placeholderData: (before) => before,
  });
  const change = useChange(
    (values: { name?: string; description?: string; colour?: number }) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}", {
          params: path,
          body: { revision: category.revision, ...values },
        }),
      ),
    () => setDescribing(false),
    "terms",
  );
  const merge = useChange(
    (into_id: number) =>
      data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/merge",
          { params: path, body: { into_id } },
        ),
      ),
    (out) => tell(`${out.label}. Undo parts them again.`),
    "terms",
  );
  const move = useChange(
    (parent_id: number | null) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/move", {
          params: path,
          body: { revision: category.revision, parent_id, before_id: null },
        }),
      ),
    (out) => tell(`${out.label}.`),
    "terms",
  );
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}", {
          params: path,
        }),
      ),
    () => tell("Category deleted. Undo brings it back."),
    "terms",
  );
  const all = {
    title: category.name,
    colour: category.colour,
    comparison: ofDictionary(dictionary.id, scope),
    cell: { row: category.path },
  };
  const openAll = () => show(all);
  const context = () =>
    void navigate(`/projects/${project_id}/corpus/context?${searchOf(new URLSearchParams(search), all)}`);
  const verdicts = (kind: "hit" | "text", shows: "all" | "differ", term: Term | null) =>
    judge({
      subject: "category",
      subject_id: category.id,
      part: term?.id ?? null,
      kind,
      shows,
      title: term ? `“${term.source}” in ${category.name}` : category.name,
      colour: category.colour,
    });
  const under = new Set([category.id]);
  for (const one of dictionary.categories)
    if (one.parent_id !== null && under.has(one.parent_id)) under.add(one.id);
  const others = dictionary.categories.filter((one) => !under.has(one.id));
  return (
    <div>
      <div className="flex items-baseline gap-2.5">
        <h1 className="flex min-w-0 items-center text-[19px] font-[650]">
          <Swatch colour={category.colour} />
          <span className="truncate">{category.name}</span>
        </h1>
        {own && (
          <button type="button" onClick={openAll} className="whitespace-nowrap text-bottle hover:underline">
            {whole(own.hits)} hits in {whole(own.texts)} texts
          </button>
        )}
        <span className="ml-auto flex items-center gap-1">
          <About topic="dictionary">
            A term is one word or several in a row; * stands for any letters, ? for one; near:5, unless-near:5
            and others set conditions. Within a category every word counts once: of overlapping hits the
            longest wins. The small columns show hits {useRateUnit()} by {splitName(split, useFields())}.
          </About>
          <Menu
            trigger={
              <button
                type="button"
                aria-label="Category menu"
                className="px-1.5 font-bold text-ink2 hover:text-ink"
              >
                ⋯
              </button>
            }
            items={[
              { label: "Read all hits in context", onSelect: context },
              ...(writes
                ? [
                    {
                      label: "Judge a sample of hits",
                      onSelect: () => setDrawing({ kind: "hit", term: null }),
                      disabled: !own?.hits,
                    },
                    { label: "Rename, describe, recolour", onSelect: () => setDescribing(true) },
                    ...(category.parent_id !== null
                      ? [{ label: "Move to the top level", onSelect: () => move.mutate(null) }]
                      : []),
                    ...others
                      .filter((one) => one.id !== category.parent_id)
                      .map((one) => ({
                        label: (
                          <span>
                            Move into <Swatch colour={one.colour} className="ml-1" />
                            {one.name}
                          </span>
                        ),
                        onSelect: () => move.mutate(one.id),
                      })),
                    ...others.map((one) => ({
                      label: (
                        <span>
                          Merge into <Swatch colour={one.colour} className="ml-1" />
                          {one.name}
                        </span>
                      ),
                      onSelect: () => merge.mutate(one.id),
                    })),
                    {
                      label: "Split off a category",
                      onSelect: () => setSplitting(true),
                      disabled: category.terms.length < 2,
                    },
                    { label: "Delete this category", onSelect: () => drop.mutate(undefined), danger: true },
                  ]
                : []),
            ]}
          />
        </span>
      </div>
      {category.description && <p className="mt-0.5 max-w-[70ch] text-ink2">{category.description}</p>}
      {writes && <TermEntry dictionary={dictionary} category={category} />}
      {profiles.error && <Failure error={profiles.error} />}
      <TermTable
        dictionary={dictionary}
        category={category}
        profiles={profiles.data}
        quality={quality.data}
        counts={counts}
        care={care}
        writes={writes}
        onJudge={(term) => setDrawing({ kind: "hit", term })}
        onVerdicts={(term) => verdicts("hit", "all", term)}
      />
      {quality.data && category.terms.length + (own?.hits ?? 0) > 0 && (
        <Quality
          quality={quality.data}
          writes={writes}
          onJudge={() => setDrawing({ kind: "hit", term: null })}
          onMissed={() => setDrawing({ kind: "text", term: null })}
          onVerdicts={(kind, shows) => verdicts(kind, shows, null)}
        />
      )}
      <Suggestions dictionary={dictionary} category={category} writes={writes} />
      <Dialog title={`Split ${category.name}`} open={splitting} onClose={() => setSplitting(false)}>
        {splitting && (
          <SplitForm dictionary={dictionary} category={category} onDone={() => setSplitting(false)} />
        )}
      </Dialog>
      <DrawSample drawing={drawing} category={category} onClose={() => setDrawing(null)} />
      <Dialog title="Rename, describe, recolour" open={describing} onClose={() => setDescribing(false)}>
        <DescribeForm
          category={category}
          onSave={(values) => change.mutate(values)}
          onClose={() => setDescribing(false)}
        />
      </Dialog>
    </div>
  );
}

function DescribeForm({
  category,
  onSave,
  onClose,
}: {
  category: Category;
  onSave: (values: { name: string; description: string; colour: number }) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(category.name);
  const [description, setDescription] = useState(category.description);
  const [colour, setColour] = useState(category.colour);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onSave({ name, description, colour });
      }}
    >
      <Field label="Name">
        {(id) => (
          <Input
            id={id}
            value={name}
            maxLength={120}
            onChange={(event) => setName(event.target.value)}
            autoFocus
          />
        )}
      </Field>
      <Field label="What belongs here">
        {(id) => (
          <textarea
            id={id}
            rows={4}
            value={description}
            onChange={(event) => setDescription(event.target.value)}
            className="w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1"
          />
        )}
      </Field>
      <div className="mb-1 text-[12px] font-bold text-ink2">Colour</div>
      <div role="radiogroup" aria-label="Colour" className="mb-4 flex gap-1.5">
        {[0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((one) => (
          <button
            key={one}
            type="button"
            role="radio"
            aria-checked={one === colour}
            aria-label={`Colour ${one + 1}`}
            onClick={() => setColour(one)}
            className={`h-6 w-6 rounded border-2 ${one === colour ? "border-ink" : "border-transparent"}`}
            style={{ background: `var(--c${one})` }}
          />
        ))}
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!name.trim()}>
          Save
        </Button>
      </div>
    </form>
  );
}

interface TableProps {
  dictionary: Schema["DictionaryTree"];
  category: Category;
  profiles: Schema["CategoryProfiles"] | undefined;
  quality: Schema["ReviewQuality"] | undefined;
  counts: Schema["DictionaryCounts"] | undefined;
  care: Schema["CarePublic"] | undefined;
  writes: boolean;
  onJudge: (term: Term) => void;
  onVerdicts: (term: Term) => void;
}

const MOST_ROWS = 300;

function TermTable({
  dictionary,
  category,
  profiles,
  quality,
  counts,
  care,
  writes,
  onJudge,
  onVerdicts,
}: TableProps) {
  const [sort, setSort] = useState<{ key: SortKey; down: boolean }>({ key: "hits", down: true });
  const [shown, setShown] = useState(MOST_ROWS);
  const [wanted, setWanted] = useAddress("precision", "0.8");
  if (!category.terms.length)
    return (
      <p className="mt-4 text-ink2">
        No term in this category itself yet. Type one above: what it catches shows while you type.
      </p>
    );
  const profileOf = (term: Term) => profiles?.terms[String(term.id)];
  const value = (term: Term): string | number => {
    const profile = profileOf(term);
    if (sort.key === "term") return term.source.toLowerCase();
    if (sort.key === "quality") return quality?.parts[String(term.id)]?.share ?? (sort.down ? -1 : 2);
    return (
      (sort.key === "hits" ? profile?.hits : sort.key === "texts" ? profile?.texts : profile?.evenness) ?? -1
    );
  };
  const terms = [...category.terms].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    const order = typeof x === "string" ? x.localeCompare(String(y)) : x - Number(y);
    return (sort.down ? -order : order) || a.id - b.id;
  });
  const head = (key: SortKey, name: string, left = false, more = "") => (
    <th
      aria-sort={sort.key === key ? (sort.down ? "descending" : "ascending") : "none"}
      className={`border-b border-line2 px-2.5 py-1.5 font-semibold text-ink2 ${more} ${left ? "w-[34%] text-left" : "text-right"}`}
    >
      <button
        type="button"
        onClick={() =>
          setSort({ key, down: sort.key === key ? !sort.down : key !== "term" && key !== "quality" })
        }
        className="font-semibold whitespace-nowrap hover:text-ink"
      >
        {name}
        {sort.key === key ? (sort.down ? " ↓" : " ↑") : ""}
      </button>
    </th>
  );
  const top = Math.max(
    0,
    ...Object.values(profiles?.terms ?? {}).flatMap((p) => p.group_rates.map((r) => r ?? 0)),
  );
  const notesOf = (term: Term) => {
    const notes: { text: string; title: string }[] = [];
    const profile = profileOf(term);
    if (counts?.double_terms.includes(term.id))
      notes.push({ text: "in two categories", title: "The same wording stands in another category" });
    if (profile?.remark) notes.push({ text: "very common", title: profile.remark });
    if (care?.idle.includes(term.id))
      notes.push({ text: "adds nothing", title: "Every hit is caught by other terms of this category" });
    const carries = care?.carrying.find((one) => one.term_id === term.id);
    if (carries)
      notes.push({
        text: `carries ${percent(carries.share)}`,
        title: "Most of the category’s hits come from this term alone",
      });
    const mixed = care?.mixed.find((one) => one.term_id === term.id);
    if (mixed)
      notes.push({
        text: "two meanings?",
        title: `Stands in two kinds of company: ${mixed.words.map((words) => words.join(", ")).join("; or ")}`,
      });
    return notes;
  };
  return (
    <>
      <div className="@container mt-3 overflow-x-auto rounded-md border border-line bg-sheet">
        <table className="w-full min-w-[600px]" aria-label="Terms">
          <thead>
            <tr>
              {head("term", "Term", true)}
              {head("hits", "Hits")}
              {head("texts", "Texts")}
              <th className="border-b border-line2 px-2.5 py-1.5 text-left font-semibold whitespace-nowrap text-ink2">
                Where it falls <span className="font-normal">(by source)</span>
              </th>
              {head("evenness", "Evenness", false, WHERE_WIDE)}
              <th
                aria-sort={sort.key === "quality" ? (sort.down ? "descending" : "ascending") : "none"}
                className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold whitespace-nowrap text-ink2"
              >
                <button
                  type="button"
                  onClick={() =>
                    setSort({ key: "quality", down: sort.key === "quality" ? !sort.down : false })
                  }
                  className="font-semibold hover:text-ink"
                >
                  Judged right{sort.key === "quality" ? (sort.down ? " ↓" : " ↑") : ""}
                </button>
                <Popover
                  width={230}
                  trigger={
                    <button
                      type="button"
                      aria-label="Precision that is wanted"
                      className="ml-1 text-ink3 hover:text-ink"
                    >
                      ▾
                    </button>
                  }
                >
                  <Field
                    label="Terms below this stand out"
                    hint="Judged right over judged. Terms are in rust where the share is lower."
                  >
                    {(id) => (
                      <Input
                        id={id}
                        type="number"
                        min={0}
                        max={1}
                        step={0.05}
                        value={wanted}
                        onChange={(event) => setWanted(event.target.value)}
                      />
                    )}
                  </Field>
                </Popover>
              </th>
              <th className="border-b border-line2">
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {terms.slice(0, shown).map((term) => (
              <TermRow
                key={term.id}
                dictionary={dictionary}
                category={category}
                term={term}
                profile={profileOf(term)}
                quality={quality?.parts[String(term.id)]}
                groups={profiles?.groups ?? []}
                top={top}
                notes={notesOf(term)}
                wanted={Number(wanted)}
                writes={writes}
                onJudge={onJudge}
                onVerdicts={onVerdicts}
              />
            ))}
          </tbody>
        </table>
      </div>
      {terms.length > shown && (
        <div className="mt-2 text-center">
          <Button onClick={() => setShown(shown + 1000)}>
            Show {whole(Math.min(1000, terms.length - shown))} more of {whole(terms.length)} terms
          </Button>
        </div>
      )}
    </>
  );
}
