import { useQuery } from "@tanstack/react-query";
import { type ClipboardEvent, useDeferredValue, useEffect, useState } from "react";
import { api, data, ProblemError, type Schema } from "../../api/client";
import { plural, whole } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { useEvidence } from "../../shell/evidence";
import { useChange, useProjectId, useScope, useSummary } from "../../shell/project";
import { Falls } from "./falls";

/** Type a term and see at each keystroke what it catches; several lines pasted are several terms. */
export function TermEntry({ dictionary, category }: { dictionary: Schema["DictionaryTree"]; category: Schema["CategoryPublic"] }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { show } = useEvidence();
  const { tell } = useToast();
  const revision = useSummary().data?.revision;
  const [typed, setTyped] = useState("");
  const [matchCase, setMatchCase] = useState(false);
  const [ignoreAccents, setIgnoreAccents] = useState(false);
  const source = useDeferredValue(typed.trim());
  const options = { match_case: matchCase, ignore_accents: ignoreAccents, note: "" };
  const tried = useQuery({
    queryKey: ["project", project_id, "try", revision, source, options, scope],
    queryFn: ({ signal }) => data(api.POST("/api/v1/projects/{project_id}/terms/try", { params: { path: { project_id } }, body: { source, ...options, scope: [...scope], split: { field: "source" } }, signal })),
    enabled: source.length > 0,
    placeholderData: (before) => (source ? before : undefined),
    retry: false,
  });
  useEffect(() => setTyped(""), [category.id]);
  const add = useChange(
    (sources: readonly string[]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/terms", {
          params: { path: { project_id, dictionary_id: dictionary.id, category_id: category.id } },
          body: { terms: sources.map((one) => ({ source: one, ...options })) },
        }),
      ),
    (out, sources) => {
      setTyped("");
      const bad = out.refused[0] ? ` Not taken: ${out.refused.length}, first “${out.refused[0].what}”: ${out.refused[0].reason}` : "";
      if (sources.length > 1 || out.doubles || bad) tell(`${plural(out.added, "term")} added${out.doubles ? `, ${out.doubles} already there` : ""}.${bad}`);
    },
  );
  const onPaste = (event: ClipboardEvent) => {
    const lines = event.clipboardData.getData("text").split(/\r?\n/).map((line) => line.trim()).filter(Boolean);
    if (lines.length > 1) {
      event.preventDefault();
      add.mutate(lines);
    }
  };
  const open = () => show({ title: `“${source}”`, colour: category.colour, scope, request: { terms: [{ source, ...options }], split: {} } });
  const error = source && tried.error instanceof ProblemError ? tried.error : null;
  const found = source && !error ? tried.data : undefined;
  return (
    <div className="mt-2.5">
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (source && !error) add.mutate([typed.trim()]);
        }}
      >
        <input
          aria-label={`New term in ${category.name}`}
          aria-invalid={error !== null}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onPaste={onPaste}
          placeholder="Type a term: lamb*, market price, #night*"
          spellCheck={false}
          autoComplete="off"
          maxLength={500}
          className={`min-w-0 flex-1 rounded-md border-2 bg-sheet px-3 py-1.5 text-[15px] outline-none placeholder:text-ink3 ${error ? "border-rust" : "border-bottle"}`}
        />
        <Button look="main" type="submit" disabled={!source || error !== null || add.isPending}>Add term ⏎</Button>
      </form>
      <div className="mt-1.5 flex min-h-[40px] flex-wrap items-start gap-x-4 text-ink2" aria-live="polite">
        {error && <Fault error={error} term={source} />}
        {found && (
          <div className={`min-w-0 flex-1 ${tried.isPlaceholderData ? "opacity-60" : ""}`} data-testid="term-catches">
            <Catches profile={found.profile} onOpen={open} />
          </div>
        )}
        {found && <Falls groups={found.groups} rates={found.profile.group_rates} hits={found.profile.group_hits} colour={category.colour} top={Math.max(0, ...found.profile.group_rates.map((r) => r ?? 0))} />}
        {!source && (
          <div className="flex gap-4">
            <label className="flex items-center gap-1.5"><input type="checkbox" checked={matchCase} onChange={(event) => setMatchCase(event.target.checked)} /> match exact case</label>
            <label className="flex items-center gap-1.5"><input type="checkbox" checked={ignoreAccents} onChange={(event) => setIgnoreAccents(event.target.checked)} /> ignore accents</label>
            <span>Paste a list to add many at once, one a line.</span>
          </div>
        )}
      </div>
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
        <b>{whole(profile.hits)}</b> {profile.hits === 1 ? "hit" : "hits"} in <b>{whole(profile.texts)}</b> {profile.texts === 1 ? "text" : "texts"}
      </button>
      : {shown.map((one) => `${one.form} ${whole(one.hits)}`).join(", ")}
      {more > 0 && ` and ${whole(more)} more forms`}
      {profile.remark && <span className="block text-rust">{profile.remark}</span>}
    </span>
  );
}

/** Why a term cannot be searched, with the place in it. */
function Fault({ error, term }: { error: ProblemError; term: string }) {
  const chars = [...term];
  const at = error.position;
  return (
    <div role="alert" className="text-rust">
      {at !== null && at < chars.length && (
        <span className="mr-2 rounded bg-wash px-1.5 font-mono">
          {chars.slice(0, at).join("")}
          <u className="font-bold decoration-2">{chars[at] === " " ? "\u00a0" : chars[at]}</u>
          {chars.slice(at + 1).join("")}
        </span>
      )}
      {error.message}
    </div>
  );
}
