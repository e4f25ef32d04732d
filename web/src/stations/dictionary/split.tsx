import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";

/** Some terms of a category become a category of their own, beside it. */
export function SplitForm({
  dictionary,
  category,
  onDone,
}: {
  dictionary: Schema["DictionaryTree"];
  category: Schema["CategoryPublic"];
  onDone: () => void;
}) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const split = useChange(
    () =>
      data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/split",
          {
            params: { path: { project_id, dictionary_id: dictionary.id, category_id: category.id } },
            body: { name: name.trim(), term_ids: [...chosen] },
          },
        ),
      ),
    (out) => {
      tell(`${out.label}. Undo puts the terms back.`);
      onDone();
    },
    "terms",
  );
  const toggle = (id: number) =>
    setChosen((now) => new Set(now.has(id) ? [...now].filter((one) => one !== id) : [...now, id]));
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        split.mutate(undefined);
      }}
    >
      <TextField label="Name of the new category" autoFocus value={name} maxLength={120} onChange={setName} />
      <fieldset className="mb-3">
        <legend className="mb-1 text-[12px] font-bold text-ink2">Terms that go with it</legend>
        <div className="max-h-[40vh] overflow-auto rounded-[5px] border border-line px-2.5 py-1.5">
          {category.terms.map((term) => (
            <label key={term.id} className="flex items-center gap-2 py-0.5">
              <input type="checkbox" checked={chosen.has(term.id)} onChange={() => toggle(term.id)} />
              {term.written}
            </label>
          ))}
        </div>
        <p className="mt-1 text-ink2">Verdicts stay with {category.name}, where they were given.</p>
      </fieldset>
      <Button look="main" type="submit" disabled={!name.trim() || !chosen.size || split.isPending}>
        {chosen.size ? `Split off ${plural(chosen.size, "term")}` : "Split off"}
      </Button>
    </form>
  );
}
