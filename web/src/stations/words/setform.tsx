import { useState } from "react";
import { api, type Condition, data } from "../../api/client";
import { useChange, useProjectId, useScope } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { Lines, TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";

/** A set of the texts that meet a condition in the scope: by rule, or the texts found now. */
export function SetForm({
  condition,
  texts,
  onDone,
}: {
  condition: Condition;
  texts: number;
  onDone: () => void;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { tell } = useToast();
  const [name, setName] = useState("");
  const [byRule, setByRule] = useState(true);
  const make = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/sets", {
          params: { path: { project_id } },
          body: byRule
            ? { name, scope: [], find: "", ids: [], rule: [...scope, condition] }
            : ({ name, scope: [...scope, condition], find: "", ids: null, rule: null } as never),
        }),
      ),
    () => {
      onDone();
      tell(
        byRule
          ? `Set “${name}” made; it stays current as texts come and change.`
          : `Set “${name}” made of ${plural(texts, "text")}.`,
      );
    },
    "values",
  );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(undefined);
      }}
    >
      <TextField label="Name" autoFocus value={name} maxLength={300} onChange={setName} />
      <Lines
        label="How texts come into the set"
        value={byRule ? "rule" : "hand"}
        onChange={(how) => setByRule(how === "rule")}
        choices={[
          { value: "rule", says: "By rule: all texts that this search finds, now and later" },
          { value: "hand", says: `By hand: the ${plural(texts, "text")} found now` },
        ]}
      />
      <div className="flex justify-end gap-2">
        <Button onClick={() => onDone()}>Leave it</Button>
        <Button look="main" type="submit" disabled={!name.trim() || make.isPending}>
          Make the set
        </Button>
      </div>
    </form>
  );
}
