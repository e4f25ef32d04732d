import { useState } from "react";
import type { Schema } from "../../api/client";
import { Colours } from "../../parts/colours";
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
      <Colours label="Colour" value={colour} onChange={setColour} />
      <div className="mb-3" />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!name.trim()}>
          Save
        </Button>
      </div>
    </form>
  );
}
