import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keyed, useAdding } from "../../data/adding";
import { useChange, useProjectId } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { languageName } from "../../lib/terms";
import { Button, Dialog, Field, Input, Select } from "../../parts/controls";
import { WaitingRows } from "../../parts/waitingrows";

const SHOWN = 400;

/** The words that lists leave out: the list that ships for a language, and what the project changed in it. */
export function StopList({
  open,
  settings,
  writes,
  onClose,
}: {
  open: boolean;
  settings: Schema["WordSettings"];
  writes: boolean;
  onClose: () => void;
}) {
  const project_id = useProjectId();
  const [typed, setTyped] = useState("");
  const [find, setFind] = useState("");
  const path = { params: { path: { project_id } } };
  const change = useChange(
    (given: { forms: string[]; listed: boolean }) =>
      data(api.POST("/api/v1/projects/{project_id}/words/stop-list", { ...path, body: given })),
    undefined,
    "word lists",
  );
  const adding = useAdding({
    line: "stop words",
    label: (forms: readonly string[]) => forms.join(", "),
    send: (forms, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/words/stop-list", {
          ...path,
          body: { forms: [...forms], listed: true },
          ...keyed(key),
        }),
      ),
    change: "word lists",
  });
  const choose = useChange(
    (language: string) =>
      data(
        api.PUT("/api/v1/projects/{project_id}/words/language", {
          ...path,
          body: { language, seen: settings.language },
        }),
      ),
    undefined,
    "word lists",
  );
  const kept = new Set(settings.kept);
  const listed = [...settings.added, ...settings.shipped.filter((word) => !kept.has(word))]; // one’s own words first
  const shown = listed.filter((word) => word.includes(find.toLowerCase())).slice(0, SHOWN);
  const added = new Set(settings.added);
  const languages = [
    { value: "none", label: "No language: only the project’s own words" },
    ...settings.languages
      .map((one) => ({ value: one, label: languageName(one) }))
      .sort((a, b) => a.label.localeCompare(b.label)),
  ];
  return (
    <Dialog title="Stop list" open={open} onClose={onClose} wide>
      <p className="mb-3 max-w-[72ch] text-ink2">
        Words that lists, clouds and suggestions leave out. The language also decides which word forms belong
        together. Dictionaries count all words, whatever stands here.
      </p>
      <div className="grid grid-cols-2 gap-5">
        <Field
          label="Language of the texts"
          hint={
            settings.shipped.length
              ? `${plural(settings.shipped.length, "word")} ship for it.`
              : "No list ships for it; add words by hand or from the word list."
          }
        >
          {(id) => (
            <Select
              id={id}
              value={settings.language}
              choices={languages}
              disabled={!writes}
              onChange={(value) => choose.mutate(value)}
            />
          )}
        </Field>
        {writes && (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              const forms = typed.split(/[\s,;]+/).filter(Boolean);
              if (forms.length) adding.add(forms);
              setTyped("");
            }}
          >
            <Field label="Add words" hint="Several at once, separated by spaces or commas.">
              {(id) => (
                <span className="flex gap-2">
                  <Input id={id} value={typed} onChange={(event) => setTyped(event.target.value)} />
                  <Button look="main" type="submit" disabled={!typed.trim()}>
                    Add
                  </Button>
                </span>
              )}
            </Field>
          </form>
        )}
      </div>
      <WaitingRows of={adding} onEdit={(forms) => setTyped(forms.join(" "))} className="mb-3" />
      {settings.kept.length > 0 && (
        <div className="mb-3">
          <div className="mb-1 text-[12px] font-bold text-ink2">On the language’s list, but counted here</div>
          <div className="flex flex-wrap gap-1.5">
            {settings.kept.map((word) => (
              <Chip
                key={word}
                word={word}
                act={writes ? () => change.mutate({ forms: [word], listed: true }) : null}
                title="Put it back on the stop list"
                sign="↩"
              />
            ))}
          </div>
        </div>
      )}
      <div className="mb-1.5 flex items-center gap-3">
        <span className="text-[12px] font-bold text-ink2">Left out: {whole(listed.length)}</span>
        <Input
          aria-label="Find on the stop list"
          placeholder="Find"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          className="!w-[160px]"
        />
        <span className="text-ink3">Words of your own are in bottle green.</span>
      </div>
      <div className="flex max-h-[34vh] flex-wrap gap-1.5 overflow-auto">
        {shown.map((word) => (
          <Chip
            key={word}
            word={word}
            own={added.has(word)}
            act={writes ? () => change.mutate({ forms: [word], listed: false }) : null}
            title="Take it off the stop list"
            sign="×"
          />
        ))}
        {!shown.length && <span className="text-ink2">No such word on the list.</span>}
        {listed.length > SHOWN && shown.length === SHOWN && (
          <span className="self-center text-ink2">Only {SHOWN} are shown; find narrows them.</span>
        )}
      </div>
    </Dialog>
  );
}

function Chip({
  word,
  act,
  title,
  sign,
  own = false,
}: {
  word: string;
  act: (() => void) | null;
  title: string;
  sign: string;
  own?: boolean;
}) {
  return (
    <span
      className={`inline-flex items-center gap-1 rounded border px-1.5 py-px ${own ? "border-bottle text-bottle" : "border-line2"}`}
    >
      {word}
      {act && (
        <button
          type="button"
          aria-label={`${title}: ${word}`}
          title={title}
          onClick={act}
          className="text-ink3 hover:text-rust"
        >
          {sign}
        </button>
      )}
    </span>
  );
}
