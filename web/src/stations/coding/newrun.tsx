import { useEffect, useMemo, useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { useDictionaries } from "../../data/dictionaries";
import { useAddress, useChange, useFields, useProjectId, useScope, useUsualSplit } from "../../data/project";
import { useRunNames, useRunPreview } from "../../data/runs";
import { useToneLists } from "../../data/tones";
import { plural } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Empty, Failure, Input, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { JobProgress, useJob } from "../../shell/jobs";
import { kindOf, RecipeLine } from "./recipeline";
import { type Draft, EMPTY, recipeOf } from "./rundraft";
import { RunExample } from "./runexample";
import { RunNames, usualNames } from "./runnames";
import { RunPreview } from "./runpreview";
import { RunThemes } from "./runthemes";
import { RunTone } from "./runtone";

type Kept = "proposals" | "applied";
const NEW_PARENT = "new";
/** What the code is called under which the codes of some runs come, as long as nobody chose another. */
const OWN_PARENT: Partial<Record<Draft["kind"], string>> = { themes: "Themes", tone: "Tone" };

/** A run that is to be made: its recipe as a sentence, and what it would find. */
export function NewRun({ onMade }: { onMade: (id: number) => void }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const dictionaries = useDictionaries();
  const lists = useFields().filter(
    (one) => one.can_split && (one.kind === "category" || one.kind === "several") && one.key !== "codes",
  );
  const book = useCodebook();
  const split = useUsualSplit();
  const tones = useToneLists();
  const [finds, setFinds] = useAddress("finds", "dictionary");
  const [chosenSoFar, setDraft] = useState<Draft>(EMPTY);
  const draft = useMemo(() => ({ ...chosenSoFar, kind: kindOf(finds) }), [chosenSoFar, finds]);
  const [state, setState] = useState<Kept>("proposals");
  const [name, setName] = useState("");
  const [parent, setParent] = useState<string | null>(null);
  const [parentName, setParentName] = useState<string | null>(null);
  const [codes, setCodes] = useState<Readonly<Record<string, number>>>({});
  const [seed, setSeed] = useState(1);
  const [jobId, setJobId] = useState<number | null>(null);
  const query = useSettled(draft.query, 400).trim();
  const pattern = useSettled(draft.pattern, 400).trim();
  const named = draft.kind === "speakers" || draft.kind === "structure";
  const by = draft.kind === "structure" ? draft.by : "speakers";
  const names = useRunNames(
    by,
    by === "speakers" ? pattern : "",
    scope,
    named,
    by === "heading" ? draft.level : 0,
  );
  const usual = useMemo(() => usualNames(names.data?.names ?? []), [names.data]);
  const chosen = draft.names ?? usual;
  const settled = useSettled(chosen, 400);
  const first = dictionaries.data?.[0]?.id ?? null;
  const firstList = lists[0]?.key ?? "";
  const threshold = useSettled(draft.threshold, 350);
  const themes = useSettled(draft.themes, 400);
  const recipe = useMemo(
    () =>
      recipeOf(
        {
          ...draft,
          query,
          pattern,
          names: settled,
          dictionary: draft.dictionary ?? first,
          field: draft.field || firstList,
          threshold,
          themes,
        },
        scope,
      ),
    [draft, query, pattern, settled, first, firstList, threshold, themes, scope],
  );
  const preview = useRunPreview(recipe, split, seed);
  const job = useJob(jobId);
  const ended = job !== null && job.state !== "queued" && job.state !== "running";
  const made = ended && job.state === "done" ? Number(job.result?.run) : null;
  useEffect(() => {
    if (made) onMade(made);
  }, [made, onMade]);
  const start = useChange(
    (body: Schema["RunStart"]) =>
      data(api.POST("/api/v1/projects/{project_id}/runs", { params: { path: { project_id } }, body })),
    (begun) => setJobId(begun.id),
    "jobs",
  );
  const found = preview.data;
  // what is learned comes under the code it was learned from
  const given =
    draft.kind === "example" && draft.codes.length === 1 && !("example" in codes)
      ? { ...codes, example: draft.codes[0]! }
      : codes;
  const above = parent ?? (draft.kind in OWN_PARENT ? NEW_PARENT : "");
  const aboveName = parentName ?? OWN_PARENT[draft.kind] ?? "";
  const changed = (part: Partial<Draft>) => {
    setDraft({ ...draft, ...part });
    if (part.kind) setFinds(part.kind);
    if ("kind" in part || "dictionary" in part || "field" in part || "codes" in part) setCodes({});
  };
  const missing =
    draft.kind === "dictionary" ? dictionaries.data?.length === 0 : draft.kind === "values" && !lists.length;
  return (
    <>
      <RecipeLine
        draft={draft}
        dictionaries={dictionaries.data ?? []}
        lists={lists}
        codes={book.codes}
        tones={tones.data ?? []}
        levels={names.data?.levels ?? []}
        onChange={changed}
      />
      <div className="min-h-0 flex-1 overflow-auto bg-sheet">
        {missing && (
          <Empty title={draft.kind === "dictionary" ? "No dictionary yet" : "No field with values"}>
            {draft.kind === "dictionary"
              ? "Make a dictionary in its station, or code what a search finds."
              : "The texts have no variable with a list of values yet."}
          </Empty>
        )}
        {draft.kind === "search" && !query && (
          <Empty title="What is to be found?">
            Type a search as in the Corpus: words and phrases, * for any ending, AND, OR, NOT.
          </Empty>
        )}
        {named && names.error && (
          <div className="p-4">
            <Failure error={names.error} />
          </div>
        )}
        {named && names.isPending && <Waiting what="Looking for names" />}
        {named && names.data && !names.error && (
          <RunNames
            found={names.data}
            by={by}
            pattern={pattern}
            chosen={chosen}
            onChoose={(next) => changed({ names: next })}
          />
        )}
        {draft.kind === "example" && <RunExample draft={draft} scope={scope} onChange={changed} />}
        {draft.kind === "themes" && (
          <RunThemes draft={draft} scope={scope} split={split} onChange={changed} />
        )}
        {draft.kind === "tone" && <RunTone draft={draft} onChange={changed} />}
        {recipe?.finder.kind === "values" && <YesNo key={recipe.finder.field} field={recipe.finder.field} />}
        {preview.error && recipe && (
          <div className="p-4">
            <Failure error={preview.error} />
          </div>
        )}
        {preview.isPending && recipe && <Waiting what="Looking through the texts" />}
        {found && recipe && !preview.error && (
          <RunPreview
            found={found}
            stale={preview.isPlaceholderData}
            codes={given}
            book={book.codes}
            onCode={(key, code) => {
              const { [key]: _, ...others } = codes;
              setCodes(code === null ? others : { ...others, [key]: code });
            }}
            onOthers={() => setSeed(seed + 1)}
          />
        )}
      </div>
      <div className="flex min-h-[47px] flex-wrap items-center gap-x-2.5 gap-y-2 border-t border-line2 bg-wash px-4 py-2">
        {start.isPending || (jobId !== null && !made && !ended) ? (
          <div className="min-w-[320px] flex-1">
            {job ? <JobProgress job={job} counted={false} /> : <Waiting what="Beginning" />}
          </div>
        ) : ended && !made ? (
          <p role="status" className="flex items-center gap-3">
            <span className="text-rust">{job.message ?? "The run was ended; nothing of it was kept."}</span>
            <Button onClick={() => setJobId(null)}>Back to the recipe</Button>
          </p>
        ) : (
          <>
            <label className="flex items-center gap-1.5">
              <span className="text-ink2">Named</span>
              <Input
                value={name}
                maxLength={190}
                placeholder={
                  OWN_PARENT[draft.kind] ??
                  ((recipe &&
                    found &&
                    (found.pieces.length === 1 ? found.pieces[0]?.name : found.instrument)) ||
                    "after what it finds")
                }
                onChange={(event) => setName(event.target.value)}
                className="w-[160px]!"
              />
            </label>
            <label className="flex items-center gap-1.5">
              <span className="text-ink2">New codes under</span>
              <Select
                value={above}
                choices={[
                  { value: "", label: "the top" },
                  { value: NEW_PARENT, label: "a code named" },
                  ...book.codes.map((one) => ({
                    value: String(one.id),
                    label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
                  })),
                ]}
                onChange={setParent}
                className="w-auto! max-w-[150px]"
              />
              {above === NEW_PARENT && (
                <Input
                  aria-label="Name of the code above"
                  value={aboveName}
                  maxLength={120}
                  onChange={(event) => setParentName(event.target.value)}
                  className="w-[110px]!"
                />
              )}
            </label>
            <Select
              aria-label="How it is kept"
              value={state}
              choices={[
                { value: "proposals", label: "as proposals, to be judged" },
                { value: "applied", label: "applied at once" },
              ]}
              onChange={(value) => setState(value as Kept)}
              className="w-auto!"
            />
            <Button
              look="main"
              className="ml-auto"
              disabled={!recipe || !found?.places || preview.isPlaceholderData}
              onClick={() =>
                recipe &&
                start.mutate({
                  recipe,
                  name: name.trim(),
                  state,
                  codes: given,
                  parent_id: above && above !== NEW_PARENT ? Number(above) : null,
                  parent_name: above === NEW_PARENT ? aboveName.trim() : "",
                })
              }
            >
              {recipe && found?.places ? `Store ${plural(found.places, "passage")}` : "Store"}
            </Button>
          </>
        )}
      </div>
    </>
  );
}

/** The values of a field as variables of 0 and 1 as well, for statistics. */
function YesNo({ field }: { field: string }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const make = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/yes-no", {
          params: { path: { project_id } },
          body: { field, values: [] },
        }),
      ),
    (made) => tell(`${made.label}: ${plural(made.texts, "text")}. Undo takes it back.`),
    "values",
  );
  return (
    <p className="flex items-center gap-2 px-4 pt-3 text-ink2">
      Each value comes under a code; for statistics they can be variables too:
      <Button disabled={make.isPending || make.isSuccess} onClick={() => make.mutate(undefined)}>
        Make variables of 0 and 1
      </Button>
    </p>
  );
}
