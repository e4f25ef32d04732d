import { useState } from "react";
import type { Schema } from "../../api/client";
import { Button } from "../../parts/controls";
import { LongField, TextField } from "../../parts/fields";

/** Name, description and colour of a category. */
export function DescribeForm({
  category,
  onSave,
  onClose,
}: {
  category: Schema["CategoryPublic"];
  onSave: (values: { name: string; description: string; colour: number }) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(category.name);
  const [description, setDescription] = useState(category.description);
  const [colour, setColour] = useState(category.colour);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onSave({ name, description, colour });
      }}
    >
      <TextField label="Name" value={name} maxLength={120} onChange={setName} autoFocus />
      <LongField label="What belongs here" rows={4} value={description} onChange={setDescription} />
      <div className="mb-1 text-[12px] font-bold text-ink2">Colour</div>
      <div role="radiogroup" aria-label="Colour" className="mb-4 flex gap-1.5">
        {[0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((one) => (
          <button
            key={one}
            type="button"
            role="radio"
            aria-checked={one === colour}
            aria-label={`Colour ${one + 1}`}
            onClick={() => setColour(one)}
            className={`h-6 w-6 rounded border-2 ${one === colour ? "border-ink" : "border-transparent"}`}
            style={{ background: `var(--c${one})` }}
          />
        ))}
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!name.trim()}>
          Save
        </Button>
      </div>
    </form>
  );
}
