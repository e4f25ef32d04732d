import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId, useSummary } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button, Dialog, Field, Input, Menu } from "../../parts/controls";
import { useToast } from "../../parts/toast";

/** Rename or delete a value, wherever it is listed. */
export function ValueMenu({ value }: { value: Schema["ValuePublic"] }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [renaming, setRenaming] = useState(false);
  const [label, setLabel] = useState(value.label);
  const path = { params: { path: { project_id, value_id: value.id } } };
  const rename = useChange(
    () => data(api.PATCH("/api/v1/projects/{project_id}/values/{value_id}", { ...path, body: { label } })),
    () => setRenaming(false),
    "values",
  );
  const drop = useChange(
    () => data(api.DELETE("/api/v1/projects/{project_id}/values/{value_id}", path)),
    (out) => tell(`${out.label}: ${plural(out.texts, "text")} had it. Undo brings it back.`),
    "values",
  );
  if (!writes || value.id < 0) return null;
  return (
    <>
      <Menu
        trigger={
          <button
            type="button"
            aria-label={`More for ${value.label}`}
            className="px-1 text-ink3 hover:text-ink"
          >
            ⋯
          </button>
        }
        items={[
          {
            label: "Rename",
            onSelect: () => {
              setLabel(value.label);
              setRenaming(true);
            },
          },
          { label: "Delete", onSelect: () => drop.mutate(undefined), danger: true },
        ]}
      />
      <Dialog open={renaming} title={`Rename “${value.label}”`} onClose={() => setRenaming(false)}>
        <Field label="Name" hint="Where a value has this name already, the two become one.">
          {(id) => (
            <Input
              id={id}
              autoFocus
              value={label}
              onChange={(event) => setLabel(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && rename.mutate(undefined)}
            />
          )}
        </Field>
        <Button look="main" disabled={!label.trim()} onClick={() => rename.mutate(undefined)}>
          Rename
        </Button>
      </Dialog>
    </>
  );
}
