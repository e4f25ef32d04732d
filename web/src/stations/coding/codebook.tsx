import { type DragEvent, type KeyboardEvent, useEffect, useState } from "react";
import { saveFile } from "../../api/client";
import { type Code, useCodebook, useCodeCounts, useCodes } from "../../data/coding";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button, Empty, Field, Menu, Select } from "../../parts/controls";
import { LongField, TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { CODE, codeDragged, dragCode } from "./drag";
import { FoundRow, useFound } from "./found";
import { CodingHead } from "./head";
import { Sign } from "./panel";

const DEEP = 3;

/** The codebook: its tree, moved by drag and by keys, and one code with what it means and holds. */
export function Codebook() {
  const book = useCodebook();
  const counts = useCodeCounts();
  const { make, move } = useCodes();
  const writes = useSummary().data?.role !== "reader";
  const [at, setAt] = useAddress("code", "");
  const [name, setName] = useState("");
  const chosen = book.byId.get(Number(at)) ?? null;
  const project_id = useProjectId();
  const { scope } = useScope();
  const { fail } = useToast();
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/codebook/export?form=${form}`, { scope: [...scope] }).catch(
      fail,
    );
  const add = (parent: Code | null) => {
    if (!name.trim()) return;
    make.mutate(
      { name: name.trim(), parent_id: parent?.id ?? null, symbol: "", description: "" },
      { onSuccess: (made) => setAt(String(made.id)) },
    );
    setName("");
  };
  return (
    <div className="flex h-full flex-col">
      <CodingHead>
        <Menu
          trigger={<Button look="ghost">Export</Button>}
          items={[
            { label: "As .csv", onSelect: () => save("csv") },
            { label: "As .xlsx", onSelect: () => save("xlsx") },
            { label: "For other programs (.qdc)", onSelect: () => save("qdc") },
          ]}
        />
        <About topic="coding">
          Counts are of the scope. A code counts all codes below it, the same words of one coder once. Drag a
          code onto another, or move it with Alt and the arrow keys.
        </About>
      </CodingHead>
      <div className="flex min-h-0 flex-1">
        <section
          aria-label="Codes"
          className="flex w-[360px] shrink-0 flex-col border-r border-line2 bg-sheet pt-3"
        >
          <div className="grid grid-cols-[1fr_70px_56px] gap-2 px-4 pb-1 text-right text-[11.5px] text-ink2">
            <span className="text-left">Code</span>
            <span>passages</span>
            <span>texts</span>
          </div>
          <ul className="min-h-0 flex-1 overflow-auto px-2">
            {book.codes.map((code) => (
              <Row
                key={code.id}
                code={code}
                codes={book.codes}
                tally={counts.get(code.id)}
                chosen={code.id === chosen?.id}
                writes={writes}
                onChoose={() => setAt(String(code.id))}
                onMove={(to) => move.mutate({ code: book.byId.get(to.id)!, ...to.place })}
              />
            ))}
          </ul>
          {writes && (
            <form
              className="border-t border-line px-3 py-2.5"
              onSubmit={(event) => {
                event.preventDefault();
                add(null);
              }}
            >
              <TextField label="New code" value={name} onChange={setName} />
              <div className="-mt-3 flex gap-2">
                <Button look="main" type="submit" disabled={!name.trim()}>
                  Add
                </Button>
                {chosen && (
                  <Button
                    disabled={!name.trim()}
                    onClick={() => add(chosen)}
                    className="max-w-[190px] truncate"
                  >
                    Add under {chosen.name}
                  </Button>
                )}
              </div>
            </form>
          )}
        </section>
        <div className="min-w-0 flex-1 overflow-auto bg-paper">
          {chosen ? (
            <One key={chosen.id} code={chosen} codes={book.codes} writes={writes} onGone={() => setAt("")} />
          ) : (
            <Empty title={book.codes.length ? "Choose a code" : "A codebook begins with a code"}>
              {book.codes.length
                ? "What it means, when it is given, and what it holds stand here."
                : "Type the name of the first one at the left, or choose words in a text and name them there."}
            </Empty>
          )}
        </div>
      </div>
    </div>
  );
}

interface Place {
  parent_id: number | null;
  before_id: number | null;
}

/** Where the arrow keys put a code: up, down, under the one before, out beside its parent; null for nowhere. */
export function placeBy(codes: readonly Code[], code: Code, key: string): Place | null {
  const siblings = codes.filter((one) => one.parent_id === code.parent_id);
  const at = siblings.findIndex((one) => one.id === code.id);
  if (key === "ArrowUp")
    return at > 0 ? { parent_id: code.parent_id, before_id: siblings[at - 1]!.id } : null;
  if (key === "ArrowDown")
    return at < siblings.length - 1
      ? { parent_id: code.parent_id, before_id: siblings[at + 2]?.id ?? null }
      : null;
  if (key === "ArrowRight") return at > 0 ? { parent_id: siblings[at - 1]!.id, before_id: null } : null;
  const parent = codes.find((one) => one.id === code.parent_id);
  if (key !== "ArrowLeft" || !parent) return null;
  const beside = codes.filter((one) => one.parent_id === parent.parent_id);
  return {
    parent_id: parent.parent_id,
    before_id: beside[beside.findIndex((one) => one.id === parent.id) + 1]?.id ?? null,
  };
}

function Row({
  code,
  codes,
  tally,
  chosen,
  writes,
  onChoose,
  onMove,
}: {
  code: Code;
  codes: readonly Code[];
  tally: { passages: number; texts: number } | undefined;
  chosen: boolean;
  writes: boolean;
  onChoose: () => void;
  onMove: (to: { id: number; place: Place }) => void;
}) {
  const [over, setOver] = useState<"" | "in" | "before">("");
  const where = (event: DragEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return event.clientY - box.top < box.height * 0.3 ? "before" : "in";
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver("");
    const id = codeDragged(event);
    if (id === null || id === code.id) return;
    onMove({
      id,
      place:
        where(event) === "in"
          ? { parent_id: code.id, before_id: null }
          : { parent_id: code.parent_id, before_id: code.id },
    });
  };
  const onKey = (event: KeyboardEvent<HTMLButtonElement>) => {
    if (event.altKey && writes) {
      const place = placeBy(codes, code, event.key);
      if (place) onMove({ id: code.id, place });
    } else if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      const all = [...(event.currentTarget.closest("ul")?.querySelectorAll("button") ?? [])];
      const next = all[all.indexOf(event.currentTarget) + (event.key === "ArrowDown" ? 1 : -1)];
      next?.focus();
      next?.click();
    } else return;
    event.preventDefault();
  };
  return (
    <li>
      <button
        type="button"
        draggable={writes}
        onDragStart={(event) => dragCode(event, code.id)}
        onDragOver={(event) => {
          if (!event.dataTransfer.types.includes(CODE)) return;
          event.preventDefault();
          setOver(where(event));
        }}
        onDragLeave={() => setOver("")}
        onDrop={drop}
        onKeyDown={onKey}
        onClick={onChoose}
        aria-current={chosen}
        className={`grid w-full grid-cols-[1fr_70px_56px] gap-2 rounded-[5px] px-2 py-1 text-left ${chosen ? "bg-tint" : "hover:bg-wash"} ${over === "in" ? "outline outline-bottle" : over ? "border-t-2 border-bottle" : ""}`}
      >
        <span className="flex min-w-0 items-baseline" style={{ paddingLeft: code.depth * 16 }}>
          <Sign code={code} />
          <span
            className={`truncate ${code.depth ? "" : "font-semibold"} ${code.technical ? "text-ink2 italic" : ""}`}
          >
            {code.name}
          </span>
        </span>
        <span className="text-right">{tally?.passages ? whole(tally.passages) : ""}</span>
        <span className="text-right text-ink2">{tally?.texts ? whole(tally.texts) : ""}</span>
      </button>
    </li>
  );
}

type Words = "name" | "description" | "rule" | "example" | "counter_example" | "symbol";
const COLOURS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9];

function One({
  code,
  codes,
  writes,
  onGone,
}: {
  code: Code;
  codes: readonly Code[];
  writes: boolean;
  onGone: () => void;
}) {
  const { change, merge, remove } = useCodes();
  const [draft, setDraft] = useState<Partial<Record<Words, string>>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: what somebody else saved is shown where nothing is being typed
  useEffect(() => setDraft({}), [code.revision]);
  const value = (field: Words) => draft[field] ?? code[field];
  const field = (name: Words) => ({
    value: value(name),
    disabled: !writes,
    onChange: (written: string) => setDraft({ ...draft, [name]: written }),
    onBlur: () => {
      const written = draft[name];
      if (written !== undefined && written !== code[name]) change.mutate({ code, [name]: written });
    },
  });
  const below = new Set(under(codes, code.id));
  const found = useFound({ codes: [code.id], coders: [], strength: 0, beside: [] }, 0);
  return (
    <div className="max-w-[860px] px-7 py-5">
      <div className="flex items-start gap-4">
        <div className="min-w-0 flex-1">
          <TextField label="Name" {...field("name")} maxLength={2000} />
        </div>
        <div className="w-[90px]">
          <TextField label="Symbol" {...field("symbol")} maxLength={16} placeholder="none" />
        </div>
        <Field label="Colour">
          {(id) => (
            <div id={id} role="radiogroup" aria-label="Colour" className="flex gap-1 pt-1">
              {COLOURS.map((colour) => (
                <button
                  key={colour}
                  type="button"
                  role="radio"
                  aria-checked={code.colour === colour}
                  aria-label={`Colour ${colour + 1}`}
                  disabled={!writes}
                  onClick={() => change.mutate({ code, colour })}
                  className={`h-5 w-5 rounded-[3px] ${code.colour === colour ? "outline-2 outline-offset-1 outline-ink" : ""}`}
                  style={{ background: `var(--c${colour})` }}
                />
              ))}
            </div>
          )}
        </Field>
      </div>
      {code.depth >= DEEP && (
        <p className="mb-3 text-ink2">
          This is level {code.depth + 1}. Codes deep down are found late and given seldom, and two coders
          rarely agree on them; a group or a second code often says the same.
        </p>
      )}
      <LongField label="What it stands for" rows={2} {...field("description")} />
      <LongField label="When it is given, and when not" rows={2} {...field("rule")} />
      <div className="grid grid-cols-2 gap-4">
        <LongField label="An example" rows={2} {...field("example")} />
        <LongField label="What looks like it and is none" rows={2} {...field("counter_example")} />
      </div>
      {writes && (
        <div className="mb-5 flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={code.technical}
              onChange={(event) => change.mutate({ code, technical: event.target.checked })}
            />{" "}
            technical: for the work itself, not for findings
          </label>
          <Select
            aria-label="Merge into"
            value=""
            choices={[
              { value: "", label: "Merge into…" },
              ...codes
                .filter((one) => !below.has(one.id))
                .map((one) => ({ value: String(one.id), label: one.name })),
            ]}
            onChange={(into) => {
              if (!into) return;
              merge.mutate({ code, into_id: Number(into) });
              onGone();
            }}
            className="w-auto! max-w-[180px]"
          />
          <Button
            onClick={() => {
              remove.mutate(code);
              onGone();
            }}
          >
            Delete
          </Button>
        </div>
      )}
      <h2 className="mb-1 text-[13px] font-bold">
        {found.data
          ? `${plural(found.data.total, "passage")} in ${plural(found.data.texts, "text")} of the scope`
          : " "}
      </h2>
      <ul className="rounded-md border border-line bg-sheet">
        {found.data?.passages.slice(0, 20).map((one) => (
          <FoundRow key={one.id} one={one} code={codes.find(({ id }) => id === one.code_id)} />
        ))}
      </ul>
      {(found.data?.total ?? 0) > 20 && <p className="mt-1 text-ink2">The others stand under Passages.</p>}
    </div>
  );
}

function under(codes: readonly Code[], id: number): number[] {
  return [id, ...codes.filter((one) => one.parent_id === id).flatMap((one) => under(codes, one.id))];
}
