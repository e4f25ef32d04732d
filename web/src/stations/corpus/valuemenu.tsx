import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId, useSummary } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button, Dialog, MoreMenu } from "../../parts/controls";
import { TextField } from "../../parts/fields";
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
    () =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/values/{value_id}", {
          ...path,
          body: { label, revision: value.revision },
        }),
      ),
    () => setRenaming(false),
    "values",
  );
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/values/{value_id}", {
          params: { ...path.params, query: { revision: value.revision } },
        }),
      ),
    (out) => tell(`${out.label}: ${plural(out.texts, "text")} had it. Undo brings it back.`),
    "values",
  );
  if (!writes || value.id < 0) return null;
  return (
    <>
      <MoreMenu
        label={`More for ${value.label}`}
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
        <TextField
          label="Name"
          hint="Where a value has this name already, the two become one."
          autoFocus
          value={label}
          onChange={setLabel}
          onKeyDown={(event) => event.key === "Enter" && rename.mutate(undefined)}
        />
        <Button look="main" disabled={!label.trim()} onClick={() => rename.mutate(undefined)}>
          Rename
        </Button>
      </Dialog>
    </>
  );
}
