import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Code } from "../../data/coding";
import { Kbd } from "../../parts/controls";
import { type Look, LookOf, type NewCode, PLAIN } from "./newcode";
import { Sign } from "./panel";

const SHOWN = 8;

/** The line at the words that are chosen: type to find a code, Enter gives it. */
export function CodingLine({
  codes,
  recent,
  first,
  label,
  ownWords,
  onGive,
  onMake,
  onOther,
  onClose,
}: {
  codes: readonly Code[];
  recent: readonly number[];
  /** What was typed before the line was there. */
  first: string;
  label: string;
  /** The chosen words as the name of a code; empty where a code is only replaced. */
  ownWords: string;
  /** Give a code, and keep the line for another. */
  onGive: (code: Code, another: boolean) => void;
  onMake: (code: NewCode, another: boolean) => void;
  /** Something else than a code for the words. */
  onOther?: (kind: "note" | "paraphrase" | "quote" | "copy") => void;
  onClose: () => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [query, setQuery] = useState(first);
  const [at, setAt] = useState(0);
  const [more, setMore] = useState<Look>(PLAIN);
  // at once, before the next letter is typed
  useLayoutEffect(() => {
    input.current?.focus({ preventScroll: true });
  }, []);
  const name = query.trim();
  const found = useMemo(() => ranked(codes, name, recent), [codes, name, recent]);
  const known = codes.some((code) => code.name.toLocaleLowerCase() === name.toLocaleLowerCase());
  const makes = ownWords !== "" && name !== "" && !known;
  const rows = found.length + (makes ? 1 : 0);
  const place = Math.min(at, rows - 1);
  const cleared = (another: boolean) => {
    setQuery("");
    setAt(0);
    if (another) input.current?.focus();
  };
  const give = (code: Code, another: boolean) => {
    onGive(code, another);
    cleared(another);
  };
  const make = (wanted: string, another: boolean) => {
    onMake({ ...more, name: wanted }, another);
    setMore(PLAIN);
    cleared(another);
  };
  const onKey = (event: React.KeyboardEvent) => {
    if (event.nativeEvent.isComposing) return;
    const other = onOther && event.altKey && OTHERS.find(({ title }) => title[4] === event.key.toUpperCase());
    if (other) {
      event.preventDefault();
      onOther(other.kind);
      return;
    }
    const digit = query === "" && /^[1-9]$/.test(event.key) ? recent[Number(event.key) - 1] : undefined;
    const byDigit = digit === undefined ? undefined : codes.find((code) => code.id === digit);
    if (byDigit) give(byDigit, event.shiftKey);
    else if (event.key === "ArrowDown") setAt(Math.min(place + 1, rows - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(place - 1, 0));
    else if (event.key === "Escape") onClose();
    else if (event.key === "Enter" && (event.ctrlKey || event.metaKey) && ownWords)
      make(name || ownWords, event.shiftKey);
    else if (event.key === "Enter") {
      const code = found[place];
      if (code) give(code, event.shiftKey);
      else if (makes) make(name, event.shiftKey);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      role="dialog"
      aria-label={label}
      data-testid="coding-line"
      className="w-[340px] rounded-md border border-line2 bg-sheet p-1.5 font-sans text-[13px] leading-normal shadow-[0_6px_20px_rgba(0,0,0,0.18)]"
      onMouseUp={(event) => event.stopPropagation()}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <input
        ref={input}
        role="combobox"
        aria-expanded={rows > 0}
        aria-controls="coding-line-codes"
        aria-activedescendant={rows > 0 && place >= 0 ? `coding-line-${place}` : undefined}
        aria-label={label}
        placeholder={ownWords ? "Type to find a code, or a new name" : "Type to find a code"}
        value={query}
        onChange={(event) => {
          setQuery(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKey}
        className="w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1"
      />
      <div
        id="coding-line-codes"
        role="listbox"
        tabIndex={-1}
        aria-label="Codes"
        className="mt-1 max-h-[250px] overflow-auto"
      >
        {found.map((code, row) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it
          <div
            key={code.id}
            id={`coding-line-${row}`}
            role="option"
            tabIndex={-1}
            aria-selected={row === place}
            onMouseDown={(event) => event.preventDefault()}
            onClick={(event) => give(code, event.shiftKey)}
            className={`flex cursor-pointer items-center rounded px-1.5 py-1 ${row === place ? "bg-tint" : "hover:bg-wash"}`}
          >
            <Sign code={code} />
            <span className="min-w-0 flex-1 truncate">{code.name}</span>
            {query === "" && recent.includes(code.id) && <Kbd>{recent.indexOf(code.id) + 1}</Kbd>}
          </div>
        ))}
        {makes && (
          // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it
          <div
            id={`coding-line-${found.length}`}
            role="option"
            tabIndex={-1}
            aria-selected={place === found.length}
            onMouseDown={(event) => event.preventDefault()}
            onClick={(event) => make(name, event.shiftKey)}
            className={`cursor-pointer truncate rounded px-1.5 py-1 text-bottle ${place === found.length ? "bg-tint" : "hover:bg-wash"}`}
          >
            New code “{name}”
          </div>
        )}
      </div>
      {makes && <LookOf look={more} onChange={setMore} onEnter={() => make(name, false)} />}
      <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-0.5 border-t border-line px-1 pt-1 text-[11.5px] text-ink2">
        <span>
          <Kbd>Enter</Kbd> gives it
        </span>
        <span>
          <Kbd>Shift Enter</Kbd> and another
        </span>
        {ownWords && (
          <button
            type="button"
            className="text-bottle hover:underline"
            title={ownWords}
            onClick={() => make(name || ownWords, false)}
          >
            In its own words <Kbd>Ctrl Enter</Kbd>
          </button>
        )}
        {onOther &&
          OTHERS.map(({ kind, label, title }) => (
            <button
              key={kind}
              type="button"
              title={title}
              className="text-bottle hover:underline"
              onClick={() => onOther(kind)}
            >
              {label}
            </button>
          ))}
      </div>
    </div>
  );
}

const OTHERS = [
  { kind: "note", label: "Note on it", title: "Alt N" },
  { kind: "paraphrase", label: "Paraphrase", title: "Alt W" },
  { kind: "quote", label: "Quote it", title: "Alt Q: pull the words into a note" },
  { kind: "copy", label: "Copy it", title: "Alt C: with the source of the words" },
] as const;

/** Codes that have what is typed, those that begin with it first; before anything is typed the last used ones. */
export function ranked(codes: readonly Code[], typed: string, recent: readonly number[]): Code[] {
  const wanted = typed.toLocaleLowerCase();
  if (!wanted) {
    const last = recent.flatMap((id) => codes.filter((code) => code.id === id));
    const others = codes.filter((code) => !recent.includes(code.id) && !code.technical);
    return [...last, ...others].slice(0, SHOWN);
  }
  const rank = (code: Code) => {
    const name = code.name.toLocaleLowerCase();
    if (name === wanted) return 0;
    if (name.startsWith(wanted)) return 1;
    if (name.split(/\s+/).some((word) => word.startsWith(wanted))) return 2;
    return name.includes(wanted) ? 3 : 4;
  };
  return codes
    .map((code) => ({ code, rank: rank(code) }))
    .filter((one) => one.rank < 4)
    .sort((a, b) => a.rank - b.rank)
    .slice(0, SHOWN)
    .map((one) => one.code);
}
