import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { percent, plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Failure, Select } from "../../parts/controls";
import { PerhapsCorrected } from "./perhaps";
import { Words } from "./words";

export type Again = Required<Schema["AgainModel"]>;
export const KEEP: Again = { texts: "keep", values: "fill", each: {}, corrects: [], left_out: [] };
type Found = Schema["ExpectedPublic"];
const SHOWN = 20;

/** What an import would do, once how the files are taken has settled; not asked unless ``ready``. */
export function useExpected(
  uploadId: number,
  lots: Record<string, Schema["LotChoiceModel"]>,
  ready: boolean,
) {
  const project_id = useProjectId();
  const asked = useSettled(lots, 700);
  return useQuery({
    queryKey: keys.of(project_id, "expected", uploadId, asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/imports/expected", {
          params: { path: { project_id } },
          body: { upload_id: uploadId, lots: asked },
        }),
      ),
    enabled: ready,
  });
}

/** What the import will do, counted before anything is stored; and what to do with texts that are there. */
export function Expected({
  found,
  again,
  onAgain,
}: {
  found: ReturnType<typeof useExpected>;
  again: Again;
  onAgain: (again: Again) => void;
}) {
  if (found.error)
    return (
      <div className="mb-3">
        <Failure error={found.error} />
      </div>
    );
  if (!found.data)
    return (
      // as high as what comes, so that the button below does not move under the pointer
      <p className="mb-3 rounded-md border border-line bg-sheet px-3.5 py-2.5 text-ink2" role="status">
        Counting what is new…
      </p>
    );
  const now = found.data;
  return (
    <section className="mb-3 rounded-md border border-line bg-sheet px-3.5 py-2.5">
      <p data-testid="expected">
        <b>
          {now.everything
            ? "The import will find "
            : `In the first ${percent(now.share)} the import will find `}
        </b>
        {counts(now).join(", ")}.
      </p>
      {now.alike > 0 && (
        <p className="text-ink2">
          {plural(now.alike, "text")} agree with another of these files in all that tells them apart; they are
          counted and stay several texts. The corpus check finds doubles.
        </p>
      )}
      {now.twice > 0 && (
        <p className="text-rust">
          {plural(now.twice, "row")} have a key that came before in these files with another text; only the
          first is taken. If each file counts its own rows, say so above.
        </p>
      )}
      <Agreeing found={now} />
      {now.conflicts.map((reason) => (
        <p key={reason} role="alert" className="text-rust">
          {reason}
        </p>
      ))}
      <PerhapsCorrected found={now} again={again} onAgain={onAgain} />
      {(now.changed > 0 || now.other_values > 0) && <Choices found={now} again={again} onAgain={onAgain} />}
    </section>
  );
}

function counts(now: Found): string[] {
  return [
    `${whole(now.new)} new${now.placeholders ? ` (${whole(now.placeholders)} without text, to fill later)` : ""}`,
    `${whole(now.known)} known already`,
    ...(now.other_values ? [`${whole(now.other_values)} known with other values`] : []),
    `${whole(now.changed)} known with another text`,
    `${whole(now.refused)} refused`,
  ];
}

function Choices({ found, again, onAgain }: { found: Found; again: Again; onAgain: (again: Again) => void }) {
  const [all, setAll] = useState(false);
  const examples = all ? found.examples : found.examples.slice(0, SHOWN);
  const fields = found.fields;
  return (
    <div className="mt-2 border-t border-line pt-2.5">
      <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-2">
        {found.changed > 0 && (
          <Choice
            label="Another text"
            value={again.texts}
            choices={[
              { value: "keep", label: "keep the stored one" },
              { value: "take", label: "take the new one" },
            ]}
            onChange={(texts) => onAgain({ ...again, texts: texts as Again["texts"] })}
          />
        )}
        {fields.length > 0 && (
          <Choice
            label="Other values"
            value={again.values}
            choices={[
              { value: "fill", label: "fill what is empty, keep the rest" },
              { value: "take", label: "take the new ones" },
              { value: "keep", label: "keep the stored ones" },
            ]}
            onChange={(values) => onAgain({ ...again, values: values as Again["values"] })}
          />
        )}
      </div>
      <p className="mb-2 text-ink2">
        {fields.map(({ name, other, empty }) => `${name}: ${fieldWords(other, empty)}`).join(". ")}
        {fields.length > 0 && ". "}
        Notes and judgements move along with the words they stand on.
      </p>
      <ul className="rounded border border-line">
        {examples.map((one) => (
          <Row
            key={one.identity}
            one={one}
            chosen={again.each[one.identity] ?? ""}
            onChoose={(chosen) => {
              const { [one.identity]: _, ...each } = again.each;
              onAgain({ ...again, each: chosen ? { ...each, [one.identity]: chosen } : each });
            }}
          />
        ))}
      </ul>
      <div className="mt-1.5 flex items-center gap-3 text-ink2">
        {!all && found.examples.length > SHOWN && (
          <Button onClick={() => setAll(true)}>Show {whole(found.examples.length - SHOWN)} more</Button>
        )}
        {found.changed + found.other_values > found.examples.length && (
          <span>
            The first {whole(found.examples.length)} of {whole(found.changed + found.other_values)} can be
            decided one by one; the others follow the choice above.
          </span>
        )}
      </div>
    </div>
  );
}

function Choice({
  label,
  ...rest
}: {
  label: string;
  value: string;
  choices: { value: string; label: string }[];
  onChange: (value: string) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      {label} <Select {...rest} className="w-auto!" />
    </label>
  );
}

/** Rows of these files that agree in what tells texts apart. */
function Agreeing({ found }: { found: Found }) {
  if (!found.agreeing.length) return null;
  return (
    <details className="mt-1 text-ink2">
      <summary className="cursor-pointer">Rows that agree, for example</summary>
      <ul className="mt-1">
        {found.agreeing.map(({ first, second, start, other }, at) => (
          <li key={at} className="py-0.5">
            {place(first)} and {place(second)}
            {other ? " have one key and different texts: " : ": "}
            <span className="font-serif text-ink">{start}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

function place({ file, row }: Schema["RowPlace"]) {
  return row ? `${file}, row ${whole(row)}` : file;
}

function fieldWords(other: number, empty: number) {
  return [
    ...(other ? [`${plural(other, "text")} with another value`] : []),
    ...(empty ? [`${plural(empty, "text")} without one yet`] : []),
  ].join(", ");
}

/** One text that is there already, with what differs and a choice of its own. */
function Row({
  one,
  chosen,
  onChoose,
}: {
  one: Schema["ExamplePublic"];
  chosen: string;
  onChoose: (chosen: "" | "keep" | "take") => void;
}) {
  return (
    <li className="grid grid-cols-[170px_1fr_auto] items-start gap-3 border-b border-line px-2.5 py-1.5 last:border-0">
      <div className="min-w-0">
        <div className="truncate font-semibold" title={one.name}>
          {one.name}
        </div>
        <div className="truncate text-ink2" title={one.file}>
          {one.file}
          {one.row ? `, row ${whole(one.row)}` : ""}
        </div>
        {one.corrected && <div className="text-rust">corrected here since</div>}
      </div>
      <div className="min-w-0">
        {one.words.length > 0 && (
          <p className="font-serif text-[14px]">
            {one.words.map((part, at) => (
              <Words key={at} part={part} />
            ))}
          </p>
        )}
        {one.values.map(({ name, before, after }) => (
          <p key={name} className="break-words">
            <span className="text-ink2">{name}:</span>{" "}
            {before ? <del className="text-rust">{before}</del> : <span className="text-ink2">nothing</span>}{" "}
            <span aria-hidden="true">→</span> <ins className="no-underline">{after}</ins>
          </p>
        ))}
      </div>
      <Select
        aria-label={`What to do with ${one.name}`}
        value={chosen}
        choices={[
          { value: "", label: "as above" },
          { value: "take", label: "take the new" },
          { value: "keep", label: "keep the old" },
        ]}
        onChange={(value) => onChoose(value as "" | "keep" | "take")}
        className="w-auto!"
      />
    </li>
  );
}
