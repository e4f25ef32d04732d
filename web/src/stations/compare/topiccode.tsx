import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId, useScope } from "../../data/project";
import { Button, Dialog } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";

/** Give a topic a name, and code its passages by a run: as proposals, to be judged. */
export function CodeTopic({
  name,
  words,
  within,
  onClose,
}: {
  name: string;
  words: readonly string[];
  within: "sentence" | "paragraph";
  onClose: () => void;
}) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { scope } = useScope();
  const { tell } = useToast();
  const [called, setCalled] = useState(name);
  const start = useChange(
    (body: Schema["RunStart"]) =>
      data(api.POST("/api/v1/projects/{project_id}/runs", { params: { path: { project_id } }, body })),
    () => {
      tell(`“${called}” is being coded as proposals; here they are judged.`);
      onClose();
      void navigate(`/projects/${project_id}/coding/runs`);
    },
    "jobs",
  );
  return (
    <Dialog title="Name the topic and code its passages" open onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          const theme = { name: called.trim(), phrases: [...words].slice(0, 300), least: 2 };
          start.mutate({
            recipe: {
              finder: { kind: "themes", themes: [theme] },
              unit: within,
              around: 10,
              scope: [...scope],
              version: 1,
            },
            name: `Topic ${called.trim()}`,
            state: "proposals",
            codes: {},
            parent_id: null,
            parent_name: "Topics",
          });
        }}
      >
        <TextField label="Name of the code" value={called} maxLength={120} onChange={setCalled} />
        <p className="mb-3 text-ink2">
          Every {within} with two different words of the topic becomes a proposal under this code, below
          “Topics”: {words.slice(0, 12).join(", ")}
          {words.length > 12 && ` and ${words.length - 12} more`}. Nothing counts before it is judged right or
          the run is applied.
        </p>
        <Button look="main" type="submit" disabled={!called.trim() || start.isPending}>
          Code as proposals
        </Button>
      </form>
    </Dialog>
  );
}
