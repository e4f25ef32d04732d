import { useState } from "react";
import { useSummary } from "../../data/project";
import { useToneLists, useToneOf } from "../../data/tones";
import { useSettled } from "../../lib/settled";
import { Button, Input } from "../../parts/controls";
import type { Draft } from "./rundraft";
import { ToneText, toneOf } from "./tonetext";
import { ToneWords } from "./tonewords";

/** How tone is measured, tried on a sentence, and the list of words it is measured with. */
export function RunTone({ draft, onChange }: { draft: Draft; onChange: (part: Partial<Draft>) => void }) {
  const lists = useToneLists();
  const writes = useSummary().data?.role !== "reader";
  const [open, setOpen] = useState(false);
  const [sentence, setSentence] = useState("");
  const wanted = useSettled(sentence, 250);
  const found = useToneOf(draft.tones ?? 0, wanted);
  const list = lists.data?.find((one) => one.id === draft.tones);
  return (
    <section aria-label="How tone is measured" className="border-b border-line px-4 py-3">
      <p className="max-w-[86ch] text-ink2">
        Each sentence gets a tone from −1 to 1, from the weights of its words, what negates and what
        strengthens them; below −0.5 and from 0.5 on it is strong, within 0.05 of 0 neutral. Irony is not
        detected, and what people are reported to say counts as said. Corrections by hand come before it.
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Button onClick={() => setOpen(true)}>
          {list?.id ? `Words of ${list.name}` : "See or change the words"}
        </Button>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={draft.neutral}
            onChange={() => onChange({ neutral: !draft.neutral })}
          />
          Code neutral sentences too
        </label>
        <Input
          aria-label="A sentence to try"
          placeholder="Try a sentence"
          value={sentence}
          maxLength={2000}
          onChange={(event) => setSentence(event.target.value)}
          className="w-[300px]!"
        />
      </div>
      {found.data && wanted.trim() && (
        <p className="mt-2" data-testid="tone-tried" aria-live="polite">
          <b>{toneOf(found.data.score)}</b> {found.data.band}:{" "}
          <span className="font-serif text-[15px]">
            <ToneText text={wanted} words={found.data.words} />
          </span>
        </p>
      )}
      {open && (
        <ToneWords
          list={draft.tones}
          writes={writes}
          onList={(tones) => onChange({ tones })}
          onClose={() => setOpen(false)}
        />
      )}
    </section>
  );
}
