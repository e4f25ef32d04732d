import { useState } from "react";

/** What a code that is made in place looks like and stands for; no colour is one that few others have. */
export interface Look {
  colour: number | null;
  symbol: string;
  description: string;
}
export type NewCode = Look & { name: string };
export const PLAIN: Look = { colour: null, symbol: "", description: "" };
const COLOURS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9];

/** Colour, symbol and description of a code that is about to be made; folded until somebody wants them. */
export function LookOf({
  look,
  onChange,
  onEnter,
}: {
  look: Look;
  onChange: (look: Look) => void;
  onEnter: () => void;
}) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button
        type="button"
        className="px-1.5 text-[12px] text-ink2 hover:text-bottle"
        onMouseDown={(event) => event.preventDefault()}
        onClick={() => setOpen(true)}
      >
        Colour, symbol and description of the new code…
      </button>
    );
  const entered = (event: React.KeyboardEvent) => {
    if (event.key !== "Enter" || event.nativeEvent.isComposing) return;
    event.preventDefault();
    onEnter();
  };
  return (
    <div className="mt-1 border-t border-line px-1 pt-1.5">
      <div className="flex items-center gap-1">
        {COLOURS.map((colour) => (
          <button
            key={colour}
            type="button"
            aria-label={`Colour ${colour + 1}`}
            aria-pressed={look.colour === colour}
            onClick={() => onChange({ ...look, colour: look.colour === colour ? null : colour })}
            className={`h-4 w-4 rounded-[3px] ${look.colour === colour ? "outline-2 outline-offset-1 outline-ink" : ""}`}
            style={{ background: `var(--c${colour})` }}
          />
        ))}
        <input
          aria-label="Symbol of the new code"
          placeholder="symbol"
          value={look.symbol}
          maxLength={16}
          onChange={(event) => onChange({ ...look, symbol: event.target.value })}
          onKeyDown={entered}
          className="ml-auto w-[72px] rounded-[5px] border border-line2 bg-sheet px-1.5 py-0.5"
        />
      </div>
      <input
        aria-label="Definition of the new code"
        placeholder="Definition"
        value={look.description}
        maxLength={2000}
        onChange={(event) => onChange({ ...look, description: event.target.value })}
        onKeyDown={entered}
        className="mt-1 w-full rounded-[5px] border border-line2 bg-sheet px-1.5 py-0.5"
      />
    </div>
  );
}
