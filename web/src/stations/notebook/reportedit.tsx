import { type ReactNode, useEffect, useRef, useState } from "react";
import { useFindings } from "../../data/answers";
import { useCodebook } from "../../data/coding";
import { useFields } from "../../data/project";
import { type Part, type Piece, type QuotesPiece, usePieceChanges } from "../../data/reports";
import { Input, Select } from "../../parts/controls";
import { Textarea } from "../../parts/fields";

const KEPT_AFTER_MS = 900;
const LEVELS = [
  { value: "1", label: "Chapter" },
  { value: "2", label: "Part" },
  { value: "3", label: "Smaller part" },
];
const MANY = [1, 3, 5, 8, 10, 20, 50, 100, 200, 500, 1000];

/** What of a piece can be changed. */
export function EditPiece({ report, part, piece }: { report: number; part: Part; piece: Piece }) {
  const { change } = usePieceChanges(report);
  const put = (next: Piece) => change.mutate({ part, piece: next });
  const store = (next: Piece) => change.mutateAsync({ part, piece: next });
  if (piece.kind === "heading")
    return (
      <>
        <Words
          key={part.id}
          place={part.id}
          label="Heading"
          value={piece.words}
          onKeep={(words) => store({ ...piece, words })}
        />
        <Select
          aria-label="Level of the heading"
          value={String(piece.level)}
          choices={LEVELS}
          onChange={(level) => put({ ...piece, level: Number(level) })}
          className="w-auto!"
        />
      </>
    );
  if (piece.kind === "words")
    return (
      <div className="w-full">
        <Words
          key={part.id}
          place={part.id}
          label="Text"
          value={piece.body}
          long
          onKeep={(body) => store({ ...piece, body })}
        />
        <p className="text-[11.5px] text-ink2">
          **bold**, *slanted*, lines that begin with - for a list, an empty line for a new paragraph
        </p>
      </div>
    );
  if (piece.kind === "finding")
    return (
      <>
        <Tick label="What it says" on={piece.says} onChange={(says) => put({ ...piece, says })} />
        <Tick label="Picture" on={piece.picture} onChange={(picture) => put({ ...piece, picture })} />
        <Tick label="Numbers" on={piece.numbers} onChange={(numbers) => put({ ...piece, numbers })} />
      </>
    );
  if (piece.kind === "quotes") return <QuotesOf piece={piece} onChange={put} />;
  return <span className="text-ink2">It is written from what is in the project.</span>;
}

function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-1.5">
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

/** Words that are stored a moment after the last letter, and stay in this browser until they are. */
function Words({
  place,
  label,
  value,
  long = false,
  onKeep,
}: {
  place: number;
  label: string;
  value: string;
  long?: boolean;
  onKeep: (words: string) => Promise<unknown>;
}): ReactNode {
  const drawer = `winnower.report.${place}`;
  const [draft, setDraft] = useState<string | null>(() => localStorage.getItem(drawer));
  const sent = useRef<string | null>(null);
  const latest = useRef({ draft, value, onKeep });
  latest.current = { draft, value, onKeep };
  const keep = () => {
    const { draft, value, onKeep } = latest.current;
    if (draft === null || draft === sent.current) return;
    if (draft === value && sent.current === null) {
      localStorage.removeItem(drawer);
      setDraft(null);
      return;
    }
    sent.current = draft;
    onKeep(draft).then(
      () => {
        // from here on the part says what it says: an undo is not written over
        if (localStorage.getItem(drawer) === draft) localStorage.removeItem(drawer);
        if (sent.current === draft) sent.current = null;
        setDraft((now) => (now === draft ? null : now));
      },
      () => {
        sent.current = null; // what went wrong was told; the words stay, and are sent with the next letter
      },
    );
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: stored a moment after the last letter
  useEffect(() => {
    if (draft === null) return;
    localStorage.setItem(drawer, draft);
    const waiting = setTimeout(keep, KEPT_AFTER_MS);
    return () => clearTimeout(waiting);
  }, [draft, drawer]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed is stored when the part is left
  useEffect(() => {
    return () => {
      keep();
    };
  }, []);
  const shown = draft ?? value;
  if (long)
    return (
      <Textarea
        aria-label={label}
        rows={Math.min(Math.max(shown.split("\n").length + 2, 4), 18)}
        maxLength={100_000}
        value={shown}
        autoFocus
        onChange={(event) => setDraft(event.target.value)}
        onBlur={keep}
      />
    );
  return (
    <Input
      aria-label={label}
      maxLength={300}
      value={shown}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && keep()}
      className="w-[300px]!"
    />
  );
}

function QuotesOf({ piece, onChange }: { piece: QuotesPiece; onChange: (piece: Piece) => void }) {
  const { codes } = useCodebook();
  const questions = useFindings().data?.questions ?? [];
  const sources = useFields().find((field) => field.key === "source")?.values ?? [];
  const from =
    piece.question !== null ? `question ${piece.question}` : piece.code !== null ? `code ${piece.code}` : "";
  const choose = (value: string) => {
    const [kind, id] = value.split(" ");
    onChange({
      ...piece,
      code: kind === "code" ? Number(id) : null,
      question: kind === "question" ? Number(id) : null,
      note: null,
    });
  };
  const passages = piece.question === null && piece.note === null;
  return (
    <>
      <Select
        aria-label="Which quotes"
        value={from}
        choices={[
          { value: "", label: piece.note !== null ? "those of a note" : "any code" },
          ...codes.map((one) => ({
            value: `code ${one.id}`,
            label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
          })),
          ...questions.map((one) => ({ value: `question ${one.id}`, label: `chosen: ${one.words}` })),
        ]}
        onChange={choose}
        className="w-auto! max-w-[220px]"
      />
      {passages && (
        <Select
          aria-label="From which source"
          value={piece.source ?? ""}
          choices={[
            { value: "", label: "any source" },
            ...sources.flatMap((one) => (one.label === null ? [] : [{ value: one.label, label: one.label }])),
          ]}
          onChange={(source) => onChange({ ...piece, source: source || null })}
          className="w-auto! max-w-[180px]"
        />
      )}
      <Select
        aria-label="How many at most"
        value={String(piece.most)}
        choices={[...new Set([...MANY, piece.most])]
          .sort((a, b) => a - b)
          .map((most) => ({ value: String(most), label: `at most ${most}` }))}
        onChange={(most) => onChange({ ...piece, most: Number(most) })}
        className="w-auto!"
      />
      {passages && (
        <Tick
          label="each source in turn"
          on={piece.spread}
          onChange={(spread) => onChange({ ...piece, spread })}
        />
      )}
    </>
  );
}
