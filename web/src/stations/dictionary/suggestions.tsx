import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, data, type Schema } from "../../api/client";
import { ofTerms } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useChange, useProjectId, useRefresh, useScope, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { term } from "../../lib/terms";
import { Button } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { useEvidence } from "../../shell/evidence";

const REASON = (one: Schema["SuggestionPublic"]) =>
  ({
    form: `another form of ${one.like}`,
    spelling: `spelled like ${one.like}`,
    company: `used like ${one.like}`,
    compound: `compound of ${one.like}`,
    synonym: `synonym of ${one.like}`,
    typical: "typical of hits judged right",
  })[one.reason];

/** Words the category may be missing: one click adds, one dismisses for good. */
export function Suggestions({
  dictionary,
  category,
  writes,
}: {
  dictionary: Schema["DictionaryTree"];
  category: Schema["CategoryPublic"];
  writes: boolean;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { show } = useEvidence();
  const { tell } = useToast();
  const refresh = useRefresh();
  const summary = useSummary().data;
  const path = { path: { project_id, dictionary_id: dictionary.id, category_id: category.id } };
  const terms = category.terms.map((one) => `${one.id}:${one.revision}`).join();
  const found = useQuery({
    queryKey: keys.of(project_id, "suggestions", summary?.revision, dictionary.id, category.id, terms, scope),
    queryFn: () =>
      data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/suggestions",
          { params: path, body: { scope: [...scope], most_each: 8 } },
        ),
      ),
    enabled: category.terms.length > 0,
    placeholderData: keepPreviousData,
  });
  const working = found.data?.company === "working";
  useEffect(() => {
    if (!working) return;
    const timer = setInterval(() => void refresh(), 2500);
    return () => clearInterval(timer);
  }, [working, refresh]);
  const add = useChange(
    (source: string) =>
      data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/terms",
          { params: path, body: { terms: [term(source)] } },
        ),
      ),
    (_, source) => tell(`“${source}” is a term of ${category.name} now. Undo takes it out.`),
    "terms",
  );
  const dismiss = useChange(
    (form: string) =>
      data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/dismiss",
          { params: path, body: { form } },
        ),
      ),
    (out) => tell(`“${out.label}” will not be offered for ${category.name} again. Undo offers it again.`),
    "terms",
  );
  const start = useChange(
    () => data(api.POST("/api/v1/projects/{project_id}/company", { params: { path: { project_id } } })),
    () => tell("Finding words that are used in similar contexts."),
    "jobs",
  );
  if (!category.terms.length) return null;
  const all = found.data?.suggestions ?? [];
  return (
    <section aria-label="Suggestions" className="mt-4">
      <div className="mb-1.5 flex flex-wrap items-center gap-x-3">
        <b className="text-ink2">You may also want</b>
        {found.data?.company === "none" && writes && (
          <Button look="ghost" onClick={() => start.mutate(undefined)}>
            Find words used in similar contexts
          </Button>
        )}
        {working && (
          <span role="status" className="text-ink2">
            Finding words that are used in similar contexts…
          </span>
        )}
      </div>
      {found.isPending && <span className="text-ink2">Looking for words…</span>}
      {found.data && !all.length && (
        <p className="text-ink2">
          No more words come to mind from forms, spellings{found.data.thesaurus ? ", synonyms" : ""} and
          company.
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        {all.map((one) => (
          <span
            key={one.text}
            className="inline-flex items-center rounded-[5px] border border-line2 bg-sheet"
          >
            {writes && (
              <button
                type="button"
                aria-label={`Add ${one.text}`}
                title={`Add “${one.text}” to ${category.name}`}
                onClick={() => add.mutate(one.term)}
                className="px-2 py-1 font-bold text-bottle hover:bg-tint"
              >
                +
              </button>
            )}
            <button
              type="button"
              onClick={() => show({ title: `“${one.text}”`, comparison: ofTerms([term(one.term)], scope) })}
              className={`py-1 text-left hover:underline ${writes ? "" : "pl-2"}`}
            >
              <b className="font-semibold">{one.text}</b>{" "}
              <span className="text-ink2">
                {plural(one.hits, "hit")}, {REASON(one)}
              </span>
            </button>
            {writes && (
              <button
                type="button"
                aria-label={`Do not suggest ${one.text} again`}
                title="Do not suggest it again"
                onClick={() => dismiss.mutate(one.text)}
                className="px-2 py-1 text-ink3 hover:text-rust"
              >
                ×
              </button>
            )}
          </span>
        ))}
      </div>
      {found.data && found.data.judged_right > 0 && (
        <p className="mt-1.5 text-[11.5px] text-ink3">
          Typical words come from {whole(found.data.judged_right)} hits judged right.
        </p>
      )}
    </section>
  );
}
