import { useState } from "react";
import { useFindings } from "../../data/answers";
import { useCodebook } from "../../data/coding";
import { useDictionaries } from "../../data/dictionaries";
import { noteTitle, useNotes } from "../../data/notes";
import { type Piece, usePieceChanges } from "../../data/reports";
import { Button, Input, Popover } from "../../parts/controls";

const MOST = 60;
export type Choose = (change: (now: number | null) => number | null) => void;
type Offer = { label: string; detail: string; piece: Piece };

const quotes = (of: Partial<Extract<Piece, { kind: "quotes" }>>): Piece => ({
  kind: "quotes",
  code: null,
  text: null,
  source: null,
  question: null,
  note: null,
  most: 5,
  spread: true,
  ...of,
});

const ALWAYS: readonly Offer[] = [
  { label: "Heading", detail: "a new chapter", piece: { kind: "heading", words: "New chapter", level: 1 } },
  { label: "Text", detail: "your own words", piece: { kind: "words", body: "" } },
  { label: "The texts at a glance", detail: "how many of which source", piece: { kind: "overview" } },
  { label: "How it was made", detail: "the method, from the settings", piece: { kind: "method" } },
  { label: "Precision and agreement", detail: "what was judged", piece: { kind: "quality" } },
  { label: "Codebook", detail: "all codes", piece: { kind: "codebook" } },
];

/** What can be added to a report: found by its name, added with a click or Enter, as many as wanted. */
export function AddPiece({
  report,
  after,
  onChoose,
}: {
  report: number;
  after: number | null;
  onChoose: Choose;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover open={open} onOpenChange={setOpen} width={330} trigger={<Button>Add ▾</Button>}>
      <Offers report={report} after={after} onChoose={onChoose} onDone={() => setOpen(false)} />
    </Popover>
  );
}

function Offers({
  report,
  after,
  onChoose,
  onDone,
}: {
  report: number;
  after: number | null;
  onChoose: Choose;
  onDone: () => void;
}) {
  const { add } = usePieceChanges(report);
  const [find, setFind] = useState("");
  const findings = useFindings().data;
  const { codes } = useCodebook();
  const notes = useNotes({ find: find.trim() }).data?.notes ?? [];
  const dictionaries = useDictionaries().data ?? [];
  const all: Offer[] = [
    ...ALWAYS,
    ...(findings?.findings ?? []).map((one) => ({
      label: one.title,
      detail: "finding",
      piece: { kind: "finding" as const, finding: one.id, says: true, picture: true, numbers: true },
    })),
    ...(findings?.questions ?? []).map((one) => ({
      label: one.words,
      detail: "quotes chosen for this question",
      piece: quotes({ question: one.id, most: 20 }),
    })),
    ...codes.map((one) => ({
      label: one.name,
      detail: "quotes under this code",
      piece: quotes({ code: one.id }),
    })),
    ...notes.map((one) => ({
      label: noteTitle(one),
      detail: "note",
      piece: { kind: "note" as const, note: one.id },
    })),
    ...dictionaries.map((one) => ({
      label: one.name,
      detail: "dictionary",
      piece: { kind: "dictionary" as const, dictionary: one.id },
    })),
  ];
  const words = find.trim().toLowerCase();
  const fits = all.filter((one) => `${one.label} ${one.detail}`.toLowerCase().includes(words));
  const take = (offer: Offer) => {
    add.mutate({
      pieces: [offer.piece],
      after,
      // what was added is chosen, unless another part was chosen meanwhile
      onPlaced: (ids, before) =>
        onChoose((now) =>
          !before.length || (now !== null && before.includes(now)) ? (ids[0] ?? null) : now,
        ),
    });
    onDone();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (fits[0]) take(fits[0]);
      }}
    >
      <Input
        autoFocus
        aria-label="What to add"
        placeholder="Finding, code, note, heading, text"
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <ul className="mt-2 max-h-[46vh] overflow-auto">
        {fits.slice(0, MOST).map((one, at) => (
          <li key={at}>
            <button
              type="button"
              onClick={() => take(one)}
              className="block w-full rounded px-2 py-1 text-left hover:bg-wash focus:bg-tint"
            >
              <span className="block truncate">{one.label}</span>
              <span className="block truncate text-[11.5px] text-ink2">{one.detail}</span>
            </button>
          </li>
        ))}
        {fits.length > MOST && (
          <li className="px-2 py-1 text-ink3">{fits.length - MOST} more: type some letters</li>
        )}
        {!fits.length && <li className="px-2 py-1 text-ink2">Nothing here is called that.</li>}
      </ul>
    </form>
  );
}
