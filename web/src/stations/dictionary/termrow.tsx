import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { ofTerms, searchOf } from "../../data/comparison";
import { useChange, useProjectId, useScope, useUsualSplit } from "../../data/project";
import { percent, three, whole } from "../../lib/numbers";
import { languageName, optionWords, term as termAs, termOf } from "../../lib/terms";
import { Button, Dialog, Field, MoreMenu, Swatch } from "../../parts/controls";
import { LongField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { useEvidence } from "../../shell/evidence";
import { Catching, useLanguage } from "./entry";
import { Falls } from "./falls";
import { FieldsForm } from "./fieldsform";

type Term = Schema["TermPublic"];
/** A column that gives way to the terms where the table is narrow, as beside a panel. */
export const WHERE_WIDE = "@max-[690px]:hidden";

interface Props {
  dictionary: Schema["DictionaryTree"];
  category: Schema["CategoryPublic"];
  term: Term;
  profile: Schema["TermProfile"] | undefined;
  quality: Schema["QualityPublic"] | undefined;
  groups: readonly string[];
  top: number;
  notes: readonly { text: string; title: string }[];
  wanted: number;
  writes: boolean;
  onJudge: (term: Term) => void;
  onVerdicts: (term: Term) => void;
}

export function TermRow({
  dictionary,
  category,
  term,
  profile,
  quality,
  groups,
  top,
  notes,
  wanted,
  writes,
  onJudge,
  onVerdicts,
}: Props) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { shown, show } = useEvidence();
  const { tell } = useToast();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { language, hasForms } = useLanguage();
  const [changing, setChanging] = useState(false);
  const [open, setOpen] = useState(false);
  const path = { path: { project_id, dictionary_id: dictionary.id, term_id: term.id } };
  const change = useChange(
    (values: Omit<Schema["TermUpdate"], "revision">) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/terms/{term_id}", {
          params: path,
          body: { revision: term.revision, ...values },
        }),
      ),
    () => setChanging(false),
    "terms",
  );
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/terms/{term_id}", {
          params: { ...path, query: { revision: term.revision } },
        }),
      ),
    () => tell(`“${term.source}” deleted. Undo brings it back.`),
    "terms",
  );
  const exclude = useChange(
    (form: string) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/terms/{term_id}/exclude", {
          params: path,
          body: { revision: term.revision, form },
        }),
      ),
    (_, form) => tell(`“${form}” is left out of ${term.source} now. Undo takes it in again.`),
    "terms",
  );
  const split = useUsualSplit();
  const evidence = (group?: string) =>
    show({
      title: group ? `“${term.source}” in ${group}` : `“${term.source}” in ${category.name}`,
      colour: category.colour,
      comparison: ofTerms([termOf(term)], scope, group ? split : {}),
      ...(group ? { cell: { group } } : {}),
    });
  const context = () => {
    const next = searchOf(new URLSearchParams(search), {
      title: `“${term.source}” in ${category.name}`,
      colour: category.colour,
      comparison: ofTerms([termOf(term)], scope),
    });
    for (const key of ["category", "dictionary"]) next.delete(key);
    void navigate(`/projects/${project_id}/corpus/context?${next}`);
  };
  const target = shown?.comparison.target;
  const isOpen = target?.kind === "terms" && target.terms[0]?.source === term.source;
  const options = optionWords(term);
  const low = quality?.share !== null && quality?.share !== undefined && quality.share < wanted;
  return (
    <>
      <tr className={`h-[30px] border-b border-line last:border-0 ${isOpen ? "bg-tint" : "hover:bg-wash"}`}>
        <td className="max-w-0 px-2.5">
          <div className="flex items-baseline gap-2">
            <button
              type="button"
              aria-label={`Forms of ${term.source}`}
              aria-expanded={open}
              onClick={() => setOpen(!open)}
              className="w-[10px] shrink-0 text-ink3 hover:text-ink"
            >
              {open ? "▾" : "▸"}
            </button>
            <button
              type="button"
              onClick={() => evidence()}
              title={term.source}
              className="min-w-0 truncate text-left font-semibold hover:underline"
            >
              {term.source}
            </button>
            {options && <span className="shrink-0 text-ink2">{options}</span>}
            {notes.map((note) => (
              <span key={note.text} className="min-w-0 shrink-[999] truncate text-rust" title={note.title}>
                {note.text}
              </span>
            ))}
            {term.note && (
              <span className="shrink-0 text-ink2" title={term.note}>
                note
              </span>
            )}
          </div>
        </td>
        <td className={`px-2.5 text-right ${profile?.hits === 0 ? "font-bold text-rust" : ""}`}>
          {profile ? whole(profile.hits) : "…"}
        </td>
        <td className="px-2.5 text-right">{profile ? whole(profile.texts) : ""}</td>
        <td className="px-2.5">
          {profile && (
            <Falls
              groups={groups}
              rates={profile.group_rates}
              hits={profile.group_hits}
              colour={category.colour}
              top={top}
              onOpen={evidence}
            />
          )}
        </td>
        <td className={`px-2.5 text-right ${WHERE_WIDE}`}>{three(profile?.evenness)}</td>
        <td className="px-2.5 text-right">
          <button
            type="button"
            disabled={!quality?.judged && (!profile?.hits || !writes)}
            onClick={() => (quality?.judged ? onVerdicts(term) : onJudge(term))}
            title={
              quality?.judged
                ? `${quality.right} right of ${quality.judged} judged; 95% interval ${percent(quality.low)} to ${percent(quality.high)}. Click for the verdicts.`
                : "Not judged yet; click to draw a sample"
            }
            className={`enabled:hover:underline ${low ? "font-bold text-rust" : quality?.judged ? "" : "text-ink3"}`}
          >
            {quality?.judged ? (
              <>
                {(quality.share ?? 0).toFixed(2)}{" "}
                <span className="font-normal text-ink3">of {quality.judged}</span>
              </>
            ) : (
              "–"
            )}
          </button>
        </td>
        <td className="w-[34px] px-1 text-right">
          <MoreMenu
            label={`Menu of ${term.source}`}
            items={[
              { label: "Read it in context", onSelect: context },
              ...(writes
                ? [
                    {
                      label: "Judge a sample of hits",
                      onSelect: () => onJudge(term),
                      disabled: !profile?.hits,
                    },
                    { label: "Change wording or note", onSelect: () => setChanging(true) },
                    {
                      label: term.match_case ? "Ignore case" : "Match exact case",
                      onSelect: () =>
                        change.mutate({
                          match_case: !term.match_case,
                          ...(term.match_case ? {} : { forms_of: "" }),
                        }),
                    },
                    {
                      label: term.ignore_accents ? "Let accents count" : "Ignore accents",
                      onSelect: () => change.mutate({ ignore_accents: !term.ignore_accents }),
                    },
                    ...(hasForms || term.forms_of
                      ? [
                          {
                            label: term.forms_of
                              ? "Only as written"
                              : `All forms of each word (${languageName(language)})`,
                            onSelect: () =>
                              change.mutate({ forms_of: term.forms_of ? "" : language, match_case: false }),
                          },
                        ]
                      : []),
                    ...dictionary.categories
                      .filter((one) => one.id !== category.id)
                      .map((one) => ({
                        label: (
                          <span>
                            Move to <Swatch colour={one.colour} className="ml-1" />
                            {one.name}
                          </span>
                        ),
                        onSelect: () => change.mutate({ category_id: one.id }),
                      })),
                    { label: "Delete", onSelect: () => drop.mutate(undefined), danger: true },
                  ]
                : []),
            ]}
          />
          <Dialog title="Change the term" open={changing} onClose={() => setChanging(false)} wide>
            <ChangeForm
              term={term}
              colour={category.colour}
              onSave={(values) => change.mutate(values)}
              onClose={() => setChanging(false)}
            />
          </Dialog>
        </td>
      </tr>
      {open && (
        <tr className="border-b border-line bg-wash">
          <td colSpan={7} className="px-8 py-2">
            <div className="flex flex-wrap items-center gap-1.5">
              <span className="mr-1 text-ink2">Catches</span>
              {profile?.forms.map((one) => (
                <span
                  key={one.form}
                  className="inline-flex items-center gap-1 rounded border border-line2 bg-sheet px-1.5 py-px"
                >
                  <button
                    type="button"
                    onClick={() =>
                      show({
                        title: `“${one.form}” as ${term.source}`,
                        colour: category.colour,
                        comparison: ofTerms([termAs(one.term)], scope),
                      })
                    }
                    className="hover:underline"
                  >
                    {one.form}
                  </button>
                  <span className="text-ink2">{whole(one.hits)}</span>
                  {writes && profile.forms_total > 1 && (
                    <button
                      type="button"
                      aria-label={`Leave ${one.form} out`}
                      title={`Leave “${one.form}” out of this term`}
                      onClick={() => exclude.mutate(one.form)}
                      className="text-ink3 hover:text-rust"
                    >
                      ×
                    </button>
                  )}
                </span>
              ))}
              {profile && profile.forms_total > profile.forms.length && (
                <span className="text-ink2">
                  and {whole(profile.forms_total - profile.forms.length)} more forms
                </span>
              )}
              {profile && !profile.forms.length && <span className="text-ink2">nothing in this scope</span>}
            </div>
            {profile?.remark && <div className="mt-1 text-rust">{profile.remark}</div>}
            {term.note && <div className="mt-1.5 max-w-[80ch] text-ink2">{term.note}</div>}
          </td>
        </tr>
      )}
    </>
  );
}

function ChangeForm({
  term,
  colour,
  onSave,
  onClose,
}: {
  term: Term;
  colour: number;
  onSave: (values: Omit<Schema["TermUpdate"], "revision">) => void;
  onClose: () => void;
}) {
  const [source, setSource] = useState(term.source);
  const [options, setOptions] = useState(termOf(term));
  const [note, setNote] = useState(term.note);
  const { language } = useLanguage();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onSave({
          source,
          note,
          match_case: options.match_case,
          ignore_accents: options.ignore_accents,
          forms_of: options.forms_of,
        });
      }}
    >
      <Field label="Term">
        {(id) => (
          <input
            id={id}
            value={source}
            maxLength={700}
            // biome-ignore lint/a11y/noAutofocus: it opened because somebody asked for it
            autoFocus
            spellCheck={false}
            onChange={(event) => setSource(event.target.value)}
            className="w-full rounded-md border-2 border-bottle bg-sheet px-3 py-1.5 text-[15px] outline-none"
          />
        )}
      </Field>
      <div className="mb-2 min-h-[38px]">
        <Catching source={source.trim()} options={options} colour={colour} />
      </div>
      <FieldsForm
        source={source.trim()}
        options={options}
        language={language}
        onChange={(next, given) => {
          setSource(next);
          setOptions(given);
        }}
      />
      <div className="mt-3">
        <LongField
          label="Note"
          hint="Why the term is there, what it is meant to catch."
          rows={2}
          value={note}
          onChange={setNote}
        />
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!source.trim()}>
          Save
        </Button>
      </div>
    </form>
  );
}
