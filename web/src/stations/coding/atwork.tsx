import { type RefObject, useState } from "react";
import { type Code, type Passage, useCodebook } from "../../data/coding";
import { noteTitle, useNoteChanges, useNotes, useParaphraseChanges } from "../../data/notes";
import { useProjectId } from "../../data/project";
import type { Stretch } from "../../lib/chosen";
import { Button } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { AtWords, WordsBox } from "./atwords";
import { CodingLine } from "./codingline";
import type { NewCode } from "./newcode";

/** What is asked at the chosen words, or at a passage. */
export type Asked =
  | { kind: "code"; first: string }
  | { kind: "other"; passage: Passage }
  | { kind: "note"; passage?: Passage }
  | { kind: "paraphrase" | "quote" };

/** What opens at the words: the coding line, a note, other words for them, a note they are quoted in. */
export function AtWork({
  textId,
  page,
  asked,
  chosen,
  recent,
  origin,
  onAsk,
  onGive,
  onMake,
  onRecode,
  onDone,
}: {
  textId: number;
  page: RefObject<HTMLDivElement | null>;
  asked: Asked;
  chosen: Stretch | null;
  recent: readonly number[];
  /** Where words are from that begin at a code point. */
  origin: (start: number) => string;
  onAsk: (asked: Asked | null) => void;
  onGive: (code: Code, another: boolean) => void;
  onMake: (code: NewCode, another: boolean) => void;
  onRecode: (passage: Passage, to: Code) => void;
  /** Something was written on the words: they need be chosen no longer. */
  onDone: () => void;
}) {
  const project = useProjectId();
  const { codes } = useCodebook();
  const notes = useNoteChanges();
  const paraphrases = useParaphraseChanges();
  const { tell, fail } = useToast();
  const close = () => onAsk(null);
  const copy = () => {
    close();
    if (chosen)
      void navigator.clipboard
        .writeText(`“${chosen.words}” (${origin(chosen.start)})`)
        .then(() => tell("Copied with their source."), fail);
  };
  const passage = asked.kind === "other" || asked.kind === "note" ? (asked.passage ?? null) : null;
  return (
    <AtWords
      page={page}
      place={passage ? passage.start : (chosen?.end ?? null)}
      passage={passage?.id ?? null}
    >
      {asked.kind === "code" && (
        <CodingLine
          codes={codes}
          recent={recent}
          first={asked.first}
          label="Code for these words"
          ownWords={words(chosen)}
          onGive={onGive}
          onMake={onMake}
          onOther={(kind) => (kind === "copy" ? copy() : onAsk({ kind }))}
          onClose={close}
        />
      )}
      {asked.kind === "other" && (
        <CodingLine
          codes={codes}
          recent={recent}
          first=""
          label="Another code for the passage"
          ownWords=""
          onGive={(code) => onRecode(asked.passage, code)}
          onMake={onMake}
          onClose={close}
        />
      )}
      {asked.kind === "note" && (
        <WordsBox
          of={`${project} note on ${passage ? `passage ${passage.id}` : `words of ${textId}`}`}
          label={passage ? "Note on the passage" : "Note on these words"}
          keep="Keep the note"
          rows={4}
          onKeep={(body) => {
            const on = passage ?? chosen;
            if (on)
              notes.make.add({
                text_id: textId,
                start: on.start,
                end: on.end,
                code_id: passage?.code_id ?? null,
                body,
              });
            onDone();
          }}
          onClose={close}
        />
      )}
      {asked.kind === "paraphrase" && (
        <WordsBox
          of={`${project} paraphrase of words of ${textId}`}
          label="Paraphrase"
          keep="Keep it"
          rows={2}
          enter
          onKeep={(body) => {
            if (chosen) paraphrases.make.add({ text_id: textId, ...chosen, body });
            onDone();
          }}
          onClose={close}
        />
      )}
      {asked.kind === "quote" && (
        <QuoteBox
          onQuote={(note) => {
            if (chosen)
              notes.quote.mutate({
                note_id: note,
                title: "",
                places: [{ text_id: textId, start: chosen.start, end: chosen.end }],
              });
            onDone();
          }}
          onClose={close}
        />
      )}
    </AtWords>
  );
}

/** The note the words are quoted in: one of the last, or a new one. */
function QuoteBox({ onQuote, onClose }: { onQuote: (note: number | null) => void; onClose: () => void }) {
  const last = useNotes({ most: 8 });
  const [find, setFind] = useState("");
  const found = useNotes({ find, most: 8 }, find !== "");
  const shown = (find ? found.data : last.data)?.notes ?? [];
  return (
    <div
      role="dialog"
      aria-label="Quote in a note"
      className="w-[340px] rounded-md border border-line2 bg-sheet p-2 font-sans text-[13px] shadow-[0_6px_20px_rgba(0,0,0,0.18)]"
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") onClose();
      }}
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: it opened because somebody asked for it
        autoFocus
        aria-label="Find a note to quote in"
        placeholder="Find a note"
        value={find}
        onChange={(event) => setFind(event.target.value)}
        className="w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1"
      />
      <ul className="mt-1 max-h-[220px] overflow-auto">
        {shown.map((note) => (
          <li key={note.id}>
            <button
              type="button"
              onClick={() => onQuote(note.id)}
              className="w-full truncate rounded px-1.5 py-1 text-left hover:bg-tint focus:bg-tint"
            >
              {noteTitle(note)} <span className="text-ink2">{note.kind}</span>
            </button>
          </li>
        ))}
      </ul>
      <Button look="ghost" onClick={() => onQuote(null)}>
        In a new note
      </Button>
    </div>
  );
}

function words(chosen: Stretch | null): string {
  return (chosen?.words ?? "").split(/\s+/).filter(Boolean).join(" ").slice(0, 120);
}
