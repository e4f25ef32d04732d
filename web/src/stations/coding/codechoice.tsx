import { useState } from "react";
import { useCodebook } from "../../data/coding";
import { Button, Input, Select } from "../../parts/controls";

/** The code that was chosen, or the name of one to make. */
export type Chosen = { code_id: number | null; new: string };
const NEW = "new";

/** A list of all codes whose last entry is a new one, which is then named. */
export function CodeChoice({
  label,
  onChoose,
  className = "",
}: {
  label: string;
  /** Fulfilled when it is done; a name that was refused stays to be changed. */
  onChoose: (chosen: Chosen) => Promise<unknown>;
  className?: string;
}) {
  const { codes } = useCodebook();
  const [name, setName] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (name !== null)
    return (
      <form
        className="flex items-center gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          if (!name.trim() || busy) return;
          setBusy(true);
          void onChoose({ code_id: null, new: name.trim() })
            .then(
              () => setName(null),
              () => undefined,
            )
            .finally(() => setBusy(false));
        }}
      >
        <Input
          aria-label={`${label}: name of a new code`}
          placeholder="Name of the new code"
          autoFocus
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && setName(null)}
          className="w-[170px]!"
        />
        <Button type="submit" disabled={!name.trim() || busy}>
          {label}
        </Button>
      </form>
    );
  return (
    <Select
      aria-label={label}
      value=""
      choices={[
        { value: "", label: `${label}…` },
        ...codes.map((one) => ({
          value: String(one.id),
          label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
        })),
        { value: NEW, label: "A new code…" },
      ]}
      onChange={(value) => {
        if (value === NEW) setName("");
        else if (value) onChoose({ code_id: Number(value), new: "" }).catch(() => undefined);
      }}
      className={className}
    />
  );
}
