import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useProjectId, useScope } from "../../data/project";
import { date, plural } from "../../lib/numbers";
import { Button, Dialog, Field, Input } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useEvidence } from "../../shell/evidence";

export interface Drawing {
  kind: "hit" | "text";
  term: Schema["TermPublic"] | null;
}

/** Draw a sample to judge, or go on with one drawn before. */
export function DrawSample({
  drawing,
  category,
  onClose,
}: {
  drawing: Drawing | null;
  category: Schema["CategoryPublic"];
  onClose: () => void;
}) {
  const title =
    drawing?.kind === "text"
      ? "Look for what is missed"
      : drawing?.term
        ? `Judge hits of “${drawing.term.source}”`
        : `Judge hits of ${category.name}`;
  return (
    <Dialog title={title} open={drawing !== null} onClose={onClose}>
      {drawing && <DrawForm drawing={drawing} category={category} onClose={onClose} />}
    </Dialog>
  );
}

function DrawForm({
  drawing,
  category,
  onClose,
}: {
  drawing: Drawing;
  category: Schema["CategoryPublic"];
  onClose: () => void;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { judge } = useEvidence();
  const [size, setSize] = useState(drawing.kind === "text" ? "50" : "20");
  const [seed, setSeed] = useState("");
  const path = { path: { project_id, subject: "category", subject_id: category.id } };
  const before = useQuery({
    queryKey: keys.of(project_id, "samples", category.id),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/review/{subject}/{subject_id}/samples", { params: path })),
  });
  const name = drawing.term ? drawing.term.written : "";
  const open = (sample: Schema["SamplePublic"]) => {
    judge({
      subject: "category",
      subject_id: category.id,
      sample_id: sample.id,
      title: sample.part ? `“${sample.part}” in ${category.name}` : category.name,
      colour: category.colour,
    });
    onClose();
  };
  const draw = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/review/{subject}/{subject_id}/samples", {
          params: path,
          body: {
            scope: [...scope],
            kind: drawing.kind,
            part: drawing.term?.id ?? null,
            size: Number(size),
            seed: Number(seed) || null,
          },
        }),
      ),
    open,
    "verdicts",
  );
  const earlier = (before.data ?? []).filter(
    (one) => one.kind === drawing.kind && (drawing.kind === "text" || one.part === name),
  );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        draw.mutate(undefined);
      }}
    >
      <p className="mb-3 text-ink2">
        {drawing.kind === "hit"
          ? "Hits are drawn in equal numbers from each source of the scope. For each you say whether it means what the category means."
          : "Texts without a hit are drawn, each equally likely. For each you say whether it should have had one."}
      </p>
      <div className="flex gap-3">
        <Field label={drawing.kind === "hit" ? "Hits" : "Texts"}>
          {(id) => (
            <Input
              id={id}
              type="number"
              min={1}
              max={500}
              value={size}
              onChange={(event) => setSize(event.target.value)}
            />
          )}
        </Field>
        <TextField
          label="Seed"
          hint="The same seed draws the same sample; empty for a new one."
          type="number"
          min={1}
          max={999999}
          value={seed}
          placeholder="new"
          onChange={setSeed}
        />
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!(Number(size) >= 1) || draw.isPending}>
          Draw and judge
        </Button>
      </div>
      {earlier.length > 0 && (
        <div className="mt-4 border-t border-line pt-3">
          <div className="mb-1 text-[12px] font-bold text-ink2">Go on with one drawn before</div>
          <ul>
            {earlier.slice(0, 8).map((one) => (
              <li key={one.id} className="flex items-baseline gap-2 py-0.5">
                <button
                  type="button"
                  onClick={() => open(one)}
                  className="font-semibold text-bottle hover:underline"
                >
                  {one.judged} of {plural(one.size, one.kind)} judged
                </button>
                <span className="text-ink2">
                  {one.by}, {date(one.made_at.slice(0, 10))}, seed {one.seed}, version {one.version}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </form>
  );
}
