import { type DragEvent, useMemo, useState } from "react";
import { type Code, useCodebook, useCodeCounts, useCodes } from "../../data/coding";
import { useSummary } from "../../data/project";
import { whole } from "../../lib/numbers";
import { Button, Input, Kbd, Swatch } from "../../parts/controls";
import { WaitingRows } from "../../parts/waitingrows";
import { codeDragged, dragCode, WORDS } from "./drag";

/** The codebook beside a text or a list: what there is, how much of it, and which number key gives it. */
export function CodebookPanel({
  here,
  recent,
  chosen,
  hidden,
  onCode,
  onHide,
}: {
  /** Passages in the text that is open, by code; null where none is. */
  here: ReadonlyMap<number, number> | null;
  recent: readonly number[];
  chosen: number | null;
  hidden: ReadonlySet<number>;
  /** A code was clicked, or words were dropped on it. */
  onCode: (code: Code, dropped: boolean) => void;
  /** Marks can be hidden where there are some. */
  onHide?: (code: number) => void;
}) {
  const book = useCodebook();
  const counts = useCodeCounts();
  const { make } = useCodes();
  const writes = useSummary().data?.role !== "reader";
  const [query, setQuery] = useState("");
  const [closed, setClosed] = useState<ReadonlySet<number>>(new Set());
  const wanted = query.trim().toLocaleLowerCase();
  const [technical, setTechnical] = useState(false);
  const folded = book.codes.filter((one) => one.technical).length;
  const shown = useMemo(
    () => visible(book.codes, closed, wanted).filter((one) => technical || wanted || !one.technical),
    [book.codes, closed, wanted, technical],
  );
  const known = book.codes.some((one) => one.name.toLocaleLowerCase() === wanted);
  const add = () => {
    const name = query.trim();
    setQuery("");
    make.add({ name, parent_id: null, symbol: "", description: "" });
  };
  const parents = new Set(book.codes.map((one) => one.parent_id));
  return (
    <section
      aria-label="Codebook"
      className="flex w-[236px] shrink-0 flex-col border-r border-line2 bg-sheet pt-3"
    >
      <div className="px-3">
        <Input
          aria-label="Find or make a code"
          placeholder="Find or make a code"
          value={query}
          onChange={(event) => setQuery(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") setQuery("");
            if (event.key === "Enter" && wanted && !known && writes) add();
          }}
        />
      </div>
      {wanted && !known && writes && (
        <div className="px-2 pt-1">
          <Button look="ghost" onClick={add} className="max-w-full truncate">
            Make “{query.trim()}”
          </Button>
        </div>
      )}
      <WaitingRows of={make} onEdit={(given) => setQuery(given.name)} className="px-2 pt-1" />
      {!book.codes.length && book.isSuccess && (
        <p className="px-3 pt-3 text-ink2">
          No codes yet. Choose words in the text and name what they are about, or type a name above.
        </p>
      )}
      <ul className="mt-2 min-h-0 flex-1 overflow-auto px-1.5 pb-3">
        {shown.map((code) => (
          <Row
            key={code.id}
            code={code}
            count={here ? (here.get(code.id) ?? 0) : (counts.get(code.id)?.passages ?? 0)}
            digit={recent.indexOf(code.id) + 1}
            chosen={chosen === code.id}
            hidden={hidden.has(code.id)}
            open={parents.has(code.id) ? !closed.has(code.id) : null}
            onOpen={() => setClosed(toggled(closed, code.id))}
            onCode={onCode}
            onHide={onHide}
            draggable={writes}
          />
        ))}
        {folded > 0 && !wanted && (
          <li>
            <button
              type="button"
              aria-expanded={technical}
              onClick={() => setTechnical(!technical)}
              className="mt-1 px-1 text-ink2 hover:text-ink"
            >
              {technical ? "▾" : "▸"} technical codes ({folded})
            </button>
          </li>
        )}
      </ul>
    </section>
  );
}

export function toggled(all: ReadonlySet<number>, one: number): ReadonlySet<number> {
  const next = new Set(all);
  if (!next.delete(one)) next.add(one);
  return next;
}

/** The codes of open branches; while something is looked for, those that have it in their name, and what they lie in. */
export function visible(codes: readonly Code[], closed: ReadonlySet<number>, wanted: string): Code[] {
  const byId = new Map(codes.map((one) => [one.id, one]));
  const above = (code: Code): Code[] => {
    const out = [];
    for (let at = code.parent_id; at !== null; ) {
      const parent = byId.get(at);
      if (!parent) break;
      out.push(parent);
      at = parent.parent_id;
    }
    return out;
  };
  if (!wanted) return codes.filter((code) => !above(code).some((one) => closed.has(one.id)));
  const found = codes.filter((code) => code.name.toLocaleLowerCase().includes(wanted));
  const kept = new Set(found.flatMap((code) => [code.id, ...above(code).map((one) => one.id)]));
  return codes.filter((code) => kept.has(code.id));
}

interface RowProps {
  code: Code;
  count: number;
  digit: number;
  chosen: boolean;
  hidden: boolean;
  open: boolean | null;
  draggable: boolean;
  onOpen: () => void;
  onCode: (code: Code, dropped: boolean) => void;
  onHide?: (code: number) => void;
}

function Row({ code, count, digit, chosen, hidden, open, draggable, onOpen, onCode, onHide }: RowProps) {
  const [over, setOver] = useState(false);
  const takes = (event: DragEvent) => event.dataTransfer.types.includes(WORDS);
  return (
    <li className="group flex items-center" style={{ paddingLeft: code.depth * 13 }}>
      {open === null ? (
        <span className="w-4 shrink-0" />
      ) : (
        <button
          type="button"
          aria-label={open ? `Fold ${code.name}` : `Unfold ${code.name}`}
          aria-expanded={open}
          onClick={onOpen}
          className="w-4 shrink-0 text-ink2"
        >
          {open ? "▾" : "▸"}
        </button>
      )}
      <button
        type="button"
        draggable={draggable}
        onDragStart={(event) => dragCode(event, code.id)}
        onDragOver={(event) => {
          if (!takes(event)) return;
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          if (!takes(event) || codeDragged(event) !== null) return;
          event.preventDefault();
          setOver(false);
          onCode(code, true);
        }}
        onClick={() => onCode(code, false)}
        aria-current={chosen}
        title={code.description || undefined}
        className={`flex min-w-0 flex-1 items-center rounded-[5px] px-1 py-1 text-left ${chosen ? "bg-tint" : "hover:bg-wash"} ${over ? "outline outline-bottle" : ""} ${hidden ? "opacity-50" : ""} ${code.depth === 0 ? "font-semibold" : ""}`}
      >
        <Sign code={code} />
        <span className="min-w-0 flex-1 truncate">{code.name}</span>
        <span className="ml-1 font-normal text-ink2">{count ? whole(count) : ""}</span>
        {digit > 0 && (
          <span className="ml-1">
            <Kbd>{digit}</Kbd>
          </span>
        )}
      </button>
      {onHide && (
        <button
          type="button"
          aria-pressed={hidden}
          aria-label={hidden ? `Show marks of ${code.name}` : `Hide marks of ${code.name}`}
          title={hidden ? "Show its marks" : "Hide its marks"}
          onClick={() => onHide(code.id)}
          className={`w-5 shrink-0 text-ink3 hover:text-ink ${hidden ? "" : "opacity-0 group-hover:opacity-100 focus-visible:opacity-100"}`}
        >
          {hidden ? "○" : "●"}
        </button>
      )}
    </li>
  );
}

/** The colour of a code, or its own symbol. */
export function Sign({ code }: { code: Pick<Code, "symbol" | "colour"> }) {
  if (!code.symbol) return <Swatch colour={code.colour} />;
  return (
    <span aria-hidden className="mr-1 inline-block min-w-[14px] shrink-0 text-center">
      {code.symbol}
    </span>
  );
}
