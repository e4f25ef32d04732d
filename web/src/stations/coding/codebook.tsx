import { type DragEvent, type KeyboardEvent, useRef, useState } from "react";
import { type Schema, saveFile } from "../../api/client";
import { type Code, useCodebook, useCodeCounts, useCodes, useCodeWords } from "../../data/coding";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { whole } from "../../lib/numbers";
import { Button, Empty, Menu } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { About } from "../../shell/about";
import { CodebookImport } from "./codeimport";
import { CodebookVersions } from "./codeversions";
import { CODE, codeDragged, dragCode } from "./drag";
import { CodingHead } from "./head";
import { One } from "./onecode";
import { GroupList } from "./onegroups";
import { Sign } from "./panel";

/** The codebook: its tree, moved by drag and by keys, and one code with what it means and holds. */
export function Codebook() {
  const book = useCodebook();
  const counts = useCodeCounts();
  const { make, move } = useCodes();
  const writes = useSummary().data?.role !== "reader";
  const [at, setAt] = useAddress("code", "");
  const [name, setName] = useState("");
  const typing = useRef(false);
  typing.current = name.trim() !== "";
  const [open, setOpen] = useState<"" | "import" | "versions">("");
  const [group, setGroup] = useState<Schema["GroupPublic"] | null>(null);
  const words = useCodeWords();
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
    make.add(
      { name: name.trim(), parent_id: parent?.id ?? null, symbol: "", description: "" },
      // the next name may be on its way: then its code is shown
      (made) => !typing.current && setAt(String(made.id)),
    );
    setName("");
  };
  return (
    <div className="flex h-full flex-col">
      <CodingHead>
        {writes && (
          <Button look="ghost" onClick={() => setOpen("import")}>
            From a file
          </Button>
        )}
        <Button look="ghost" onClick={() => setOpen("versions")}>
          Versions
        </Button>
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
      {open === "import" && <CodebookImport onClose={() => setOpen("")} />}
      {open === "versions" && <CodebookVersions writes={writes} onClose={() => setOpen("")} />}
      <div className="flex min-h-0 flex-1">
        <section
          aria-label="Codes"
          className="flex w-[400px] shrink-0 flex-col border-r border-line2 bg-sheet pt-3"
        >
          <ul className="min-h-0 flex-1 overflow-auto px-2">
            <li className="sticky top-0 z-10 grid grid-cols-[1fr_62px_46px_56px] gap-2 bg-sheet px-2 pb-1 text-right text-[11.5px] text-ink2">
              <span className="text-left">Code</span>
              <span>passages</span>
              <span>texts</span>
              <span title="Words of the scope that lie in its passages">words</span>
            </li>
            {book.codes
              .filter((one) => !group || group.codes.includes(one.id))
              .map((code) => (
                <Row
                  key={code.id}
                  code={code}
                  codes={book.codes}
                  tally={counts.get(code.id)}
                  words={words.get(code.id)}
                  chosen={code.id === chosen?.id}
                  writes={writes}
                  onChoose={() => setAt(String(code.id))}
                  onMove={(to) => move.mutate({ code: book.byId.get(to.id)!, ...to.place })}
                />
              ))}
          </ul>
          <GroupList chosen={group?.id ?? null} writes={writes} onChoose={setGroup} />
          {writes && (
            <form
              className="border-t border-line px-3 py-2.5"
              onSubmit={(event) => {
                event.preventDefault();
                add(null);
              }}
            >
              <WaitingRows of={make} onEdit={(given) => setName(given.name)} className="mb-2" />
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
                ? "Its definition, when to use it and its passages are shown here."
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
  words,
  chosen,
  writes,
  onChoose,
  onMove,
}: {
  code: Code;
  codes: readonly Code[];
  tally: { passages: number; texts: number } | undefined;
  words: number | undefined;
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
        className={`grid w-full grid-cols-[1fr_62px_46px_56px] gap-2 rounded-[5px] px-2 py-1 text-left ${chosen ? "bg-tint" : "hover:bg-wash"} ${over === "in" ? "outline outline-bottle" : over ? "border-t-2 border-bottle" : ""}`}
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
        <span className="text-right text-ink2">{words ? whole(words) : ""}</span>
      </button>
    </li>
  );
}
