import { useState } from "react";
import type { Condition } from "../../api/client";
import { useScope } from "../../data/project";
import { useMakeSet } from "../../data/variables";
import { plural } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { Lines, TextField } from "../../parts/fields";

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
  const { scope } = useScope();
  const [name, setName] = useState("");
  const [byRule, setByRule] = useState(true);
  const make = useMakeSet();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        make.add(
          byRule
            ? { name: name.trim(), scope: [], find: "", ids: [], rule: [...scope, condition] }
            : { name: name.trim(), scope: [...scope, condition], find: "", ids: null, rule: null },
        );
        onDone();
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
        <Button look="main" type="submit" disabled={!name.trim()}>
          Make the set
        </Button>
      </div>
    </form>
  );
}
