import { useState } from "react";
import { useAddTerms, useDictionaries, useDictionary } from "../../data/dictionaries";
import { term } from "../../lib/terms";
import { Button, Dialog, Field, Select } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";

/** Put a term into a category of a dictionary, from wherever it was found. */
export function AddTerm({ source, onClose }: { source: string | null; onClose: () => void }) {
  return (
    <Dialog title="New term" open={source !== null} onClose={onClose}>
      {source !== null && <AddForm key={source} source={source} onClose={onClose} />}
    </Dialog>
  );
}

function AddForm({ source, onClose }: { source: string; onClose: () => void }) {
  const { tell } = useToast();
  const [written, setWritten] = useState(source);
  const [dictionary, setDictionary] = useState("");
  const [category, setCategory] = useState("");
  const all = useDictionaries();
  const dictionary_id = Number(dictionary || all.data?.[0]?.id || 0);
  const tree = useDictionary(dictionary_id);
  const categories = tree.data?.categories ?? [];
  const category_id = Number(category || categories[0]?.id || 0);
  const name = categories.find((one) => one.id === category_id)?.name ?? "";
  const adding = useAddTerms(dictionary_id, category_id, (out) =>
    tell(out.doubles ? `“${written}” is in ${name} already.` : `“${written}” is a term of ${name} now.`),
  );
  if (all.data && !all.data.length)
    return <p className="text-ink2">There is no dictionary yet. Make one in the Dictionary station first.</p>;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        adding.add([term(written.trim())]);
        onClose();
      }}
    >
      <TextField label="Term" value={written} maxLength={700} onChange={setWritten} spellCheck={false} />
      {(all.data?.length ?? 0) > 1 && (
        <Field label="Dictionary">
          {(id) => (
            <Select
              id={id}
              value={String(dictionary_id)}
              choices={(all.data ?? []).map((one) => ({ value: String(one.id), label: one.name }))}
              onChange={setDictionary}
            />
          )}
        </Field>
      )}
      <Field label="Category">
        {(id) => (
          <Select
            id={id}
            value={String(category_id)}
            choices={categories.map((one) => ({
              value: String(one.id),
              label: `${"\u2003".repeat(one.depth)}${one.name}`,
            }))}
            onChange={setCategory}
          />
        )}
      </Field>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!written.trim() || !category_id}>
          Add term
        </Button>
      </div>
    </form>
  );
}
