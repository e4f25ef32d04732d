import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { ofDictionary, searchOf } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useRateUnit } from "../../data/measures";
import { useChange, useFields, useProjectId, useScope, useSummary, useUsualSplit } from "../../data/project";
import { whole } from "../../lib/numbers";
import { splitName } from "../../lib/split";
import { Dialog, Failure, Menu, Swatch } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { DescribeForm } from "./describe";
import { DrawSample } from "./draw";
import { TermEntry } from "./entry";
import { Quality } from "./quality";
import { SplitForm } from "./split";
import { Suggestions } from "./suggestions";
import { TermTable } from "./termtable";

type Category = Schema["CategoryPublic"];
type Term = Schema["TermPublic"];

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
          params: { ...path, query: { revision: category.revision } },
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
