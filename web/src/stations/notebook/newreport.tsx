import { useState } from "react";
import type { Schema } from "../../api/client";
import { useSummary } from "../../data/project";
import type { By } from "../../data/reports";
import { Button, Dialog } from "../../parts/controls";
import { TextField } from "../../parts/fields";

const WAYS: readonly { by: By; label: string; says: string }[] = [
  {
    by: "question",
    label: "By question",
    says: "Your questions as chapters, with their findings, notes and chosen quotes",
  },
  {
    by: "theme",
    label: "By theme",
    says: "The codes of the highest level as chapters, with notes and quotes",
  },
  { by: "text", label: "By text", says: "Texts that were coded or noted on as chapters" },
  { by: "source", label: "By source", says: "Sources as chapters, with what was coded in them" },
  { by: "nothing", label: "Empty", says: "Nothing yet; add part after part" },
];

/** What a new report is called, and how it begins. */
export function NewReport({
  open,
  begun,
  onClose,
  onBegin,
}: {
  open: boolean;
  /** One that was refused, to be changed. */
  begun?: Schema["ReportGiven"] | undefined;
  onClose: () => void;
  /** It is put together while the dialog is closed already. */
  onBegin: (given: Schema["ReportGiven"]) => void;
}) {
  const name = useSummary().data?.name ?? "";
  const [title, setTitle] = useState<string | null>(begun?.title ?? null);
  const [by, setBy] = useState<By>(begun?.by ?? "question");
  const given = (title ?? name).trim();
  const begin = () => {
    onBegin({ title: given, by });
    setTitle(null);
    onClose();
  };
  return (
    <Dialog title="New report" open={open} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (given) begin();
        }}
      >
        <TextField label="Title" value={title ?? name} onChange={setTitle} maxLength={300} />
        <fieldset className="mt-3">
          <legend className="mb-1 font-semibold">It begins</legend>
          {WAYS.map((way) => (
            <label key={way.by} className="flex items-start gap-2 py-1">
              <input
                type="radio"
                name="by"
                checked={by === way.by}
                onChange={() => setBy(way.by)}
                className="mt-0.5"
              />
              <span>
                <span className="font-semibold">{way.label}</span>
                <span className="block text-ink2">{way.says}</span>
              </span>
            </label>
          ))}
        </fieldset>
        <p className="mt-2 text-ink2">
          All but the empty one have an overview of the texts, the method and the instruments too. Everything
          can be moved, changed and taken out.
        </p>
        <div className="mt-4 flex justify-end gap-2">
          <Button type="button" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" look="main" disabled={!given}>
            Begin the report
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
