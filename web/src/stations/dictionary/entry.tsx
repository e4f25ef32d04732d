import { useQuery } from "@tanstack/react-query";
import { type ClipboardEvent, useDeferredValue, useEffect, useState } from "react";
import { api, data, ProblemError, type Schema } from "../../api/client";
import { ofTerms } from "../../data/comparison";
import { useAddTerms } from "../../data/dictionaries";
import { keys } from "../../data/keys";
import { useProjectId, useScope, useSummary, useUsualSplit } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { languageName, type TermOptions, term } from "../../lib/terms";
import { Button, Dialog } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { useEvidence } from "../../shell/evidence";
import { Falls } from "./falls";
import { Fault } from "./fault";
import { FieldsForm } from "./fieldsform";

/** The language of the project, for all forms of a word. */
export function useLanguage(): { language: string; hasForms: boolean } {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "words", "settings"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/words/settings", { params: { path: { project_id } } })),
  });
  return { language: found.data?.language ?? "en", hasForms: found.data ? found.data.has_lemmas : true };
}

/** Type a term and see at each keystroke what it catches; several lines pasted are several terms. */
export function TermEntry({
  dictionary,
  category,
}: {
  dictionary: Schema["DictionaryTree"];
  category: Schema["CategoryPublic"];
}) {
  const { tell } = useToast();
  const [typed, setTyped] = useState("");
  const [options, setOptions] = useState<TermOptions>(term(""));
  const [asFields, setAsFields] = useState(false);
  const [refused, setRefused] = useState<Schema["TermsAdded"] | null>(null);
  const { language, hasForms } = useLanguage();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another category begins empty
  useEffect(() => {
    setTyped("");
  }, [category.id]);
  const adding = useAddTerms(dictionary.id, category.id, (out, terms) => {
    if (out.refused.length) setRefused(out);
    else if (terms.length > 1 || out.doubles)
      tell(`${plural(out.added, "term")} added${out.doubles ? `, ${out.doubles} already there` : ""}.`);
  });
  const add = (sources: readonly string[]) => {
    adding.add(sources.map((one) => ({ ...options, source: one })));
    setTyped("");
    setOptions(term(""));
  };
  const onPaste = (event: ClipboardEvent) => {
    const lines = event.clipboardData
      .getData("text")
      .split(/\r?\n/)
      .map((line) => line.trim())
      .filter(Boolean);
    if (lines.length > 1) {
      event.preventDefault();
      add(lines.slice(0, 10_000));
      if (lines.length > 10_000)
        tell(`The first 10,000 of ${whole(lines.length)} lines are added; paste the rest again.`);
    }
  };
  const source = useDeferredValue(typed.trim());
  const tried = useTried(source, options);
  // what is known of the term before the last letter does not speak of this one
  const error = source === typed.trim() ? tried.error : null;
  return (
    <div className="mt-2.5">
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim() && !error) add([typed.trim()]);
        }}
      >
        <input
          aria-label={`New term in ${category.name}`}
          aria-invalid={error !== null}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onPaste={onPaste}
          placeholder="Type a term: lamb*, market [0-2] price, stock near:5 market"
          spellCheck={false}
          autoComplete="off"
          maxLength={700}
          className={`min-w-0 flex-1 rounded-md border-2 bg-sheet px-3 py-1.5 text-[15px] outline-none placeholder:text-ink3 ${error ? "border-rust" : "border-bottle"}`}
        />
        <Button look="main" type="submit" disabled={!typed.trim() || error !== null}>
          Add term ⏎
        </Button>
      </form>
      <WaitingRows
        of={adding}
        onEdit={(terms) => {
          setTyped(terms.map((one) => one.source).join("\n"));
          setOptions({ ...terms[0]!, source: "" });
        }}
        className="mt-1.5 max-h-[160px] overflow-auto"
      />
      {asFields && (
        <FieldsForm
          source={typed.trim()}
          options={options}
          language={language}
          onChange={(next, given) => {
            setTyped(next);
            setOptions(given);
          }}
        />
      )}
      <div className="mt-1.5 flex min-h-[40px] flex-wrap items-start gap-x-4 text-ink2">
        <Catching source={source} options={options} colour={category.colour} />
        {!asFields && !source && (
          <>
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={options.match_case}
                onChange={(event) =>
                  setOptions({ ...options, match_case: event.target.checked, forms_of: "" })
                }
              />{" "}
              exact case
            </label>
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={options.ignore_accents}
                onChange={(event) => setOptions({ ...options, ignore_accents: event.target.checked })}
              />{" "}
              ignore accents
            </label>
            {hasForms && (
              <label className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={Boolean(options.forms_of)}
                  onChange={(event) =>
                    setOptions({
                      ...options,
                      forms_of: event.target.checked ? language : "",
                      match_case: false,
                    })
                  }
                />{" "}
                all forms ({languageName(language)})
              </label>
            )}
            <span className="text-ink3">A pasted list is many terms, one a line.</span>
          </>
        )}
        <Button
          look="ghost"
          className="ml-auto !py-0"
          onClick={() => setAsFields(!asFields)}
          aria-expanded={asFields}
        >
          {asFields ? "Only as text" : "As fields"}
        </Button>
      </div>
      <Dialog title="Not all lines were taken" open={refused !== null} onClose={() => setRefused(null)} wide>
        {refused && (
          <>
            <p className="mb-2">
              {plural(refused.added, "term")} added
              {refused.doubles ? `, ${whole(refused.doubles)} were there already` : ""};{" "}
              {plural(refused.refused.length, "line")} could not be read:
            </p>
            <table className="w-full">
              <tbody>
                {refused.refused.slice(0, 300).map((one, at) => (
                  <tr key={at} className="border-b border-line">
                    <td className="py-1 pr-4 font-semibold">{one.what}</td>
                    <td className="py-1 text-rust">{one.reason}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {refused.refused.length > 300 && (
              <p className="mt-2 text-ink2">and {whole(refused.refused.length - 300)} more.</p>
            )}
          </>
        )}
      </Dialog>
    </div>
  );
}

/** What a term catches in the scope, followed as it is typed. */
function useTried(source: string, options: TermOptions) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const split = useUsualSplit();
  const tried = useQuery({
    queryKey: keys.of(project_id, "try", revision, source, options, scope, split),
    queryFn: ({ signal }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/terms/try", {
          params: { path: { project_id } },
          body: { ...options, source, scope: [...scope], split },
          signal,
        }),
      ),
    enabled: source.length > 0,
    placeholderData: (before) => (source ? before : undefined),
    retry: false,
  });
  // a server that is away, or a session that ended, says nothing of the term
  const fault = tried.error instanceof ProblemError && tried.error.status === 422 ? tried.error : null;
  const error = source ? fault : null;
  return { error, found: source && !error ? tried.data : undefined, faint: tried.isPlaceholderData };
}

/** Hits, forms and where they fall, or why the term cannot be searched. */
export function Catching({
  source,
  options,
  colour,
}: {
  source: string;
  options: TermOptions;
  colour: number;
}) {
  const { scope } = useScope();
  const { show } = useEvidence();
  const { error, found, faint } = useTried(source, options);
  const open = () =>
    show({ title: `“${source}”`, colour, comparison: ofTerms([{ ...options, source }], scope) });
  return (
    <div className="flex min-w-0 flex-1 flex-wrap items-start gap-x-4" aria-live="polite">
      {error && <Fault error={error} term={source} />}
      {found && (
        <div className={`min-w-0 flex-1 ${faint ? "opacity-90" : ""}`} data-testid="term-catches">
          <Catches profile={found.profile} onOpen={open} />
        </div>
      )}
      {found && (
        <Falls
          groups={found.groups}
          rates={found.profile.group_rates}
          hits={found.profile.group_hits}
          colour={colour}
          top={Math.max(0, ...found.profile.group_rates.map((r) => r ?? 0))}
        />
      )}
    </div>
  );
}

function Catches({ profile, onOpen }: { profile: Schema["TermProfile"]; onOpen: () => void }) {
  if (!profile.hits) return <span className="text-rust">Catches nothing in this scope.</span>;
  const shown = profile.forms.slice(0, 10);
  const more = profile.forms_total - shown.length;
  return (
    <span>
      Catches{" "}
      <button type="button" onClick={onOpen} className="text-bottle hover:underline">
        <b>{whole(profile.hits)}</b> {profile.hits === 1 ? "hit" : "hits"} in <b>{whole(profile.texts)}</b>{" "}
        {profile.texts === 1 ? "text" : "texts"}
      </button>
      : {shown.map((one) => `${one.form} ${whole(one.hits)}`).join(", ")}
      {more > 0 && ` and ${whole(more)} more forms`}
      {profile.remark && <span className="block text-rust">{profile.remark}</span>}
    </span>
  );
}
