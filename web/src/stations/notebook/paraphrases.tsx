import { type DragEvent, useState } from "react";
import { Link, useLocation } from "react-router";
import { saveFile } from "../../api/client";
import { type Code, useCodebook } from "../../data/coding";
import { PARAPHRASES_AT_ONCE, type Paraphrase, useParaphraseChanges, useParaphrases } from "../../data/notes";
import { useAddress, useFields, useProjectId } from "../../data/project";
import { date, plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { useDraft } from "../../lib/usedraft";
import { Button, Empty, Failure, Input, Menu, Select, Waiting } from "../../parts/controls";
import { Textarea } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { toEnd } from "../coding/notecards";
import { Sign } from "../coding/panel";
import { NotebookHead } from "./head";

const DRAGGED = "text/x-winnower-paraphrases";
const SORTS = [
  { value: "text", label: "by text" },
  { value: "source", label: "by source" },
  { value: "newest", label: "newest first" },
  { value: "words", label: "by their words" },
];
const GRID =
  "grid-cols-[18px_minmax(150px,0.8fr)_minmax(200px,1.3fr)_minmax(200px,1.3fr)_minmax(100px,0.6fr)]";

/** All paraphrases in one table, gathered under codes by drag or by a name. */
export function Paraphrases() {
  const project_id = useProjectId();
  const [find, setFind] = useState("");
  const [source, setSource] = useAddress("source", "");
  const [sort, setSort] = useAddress("sort", "text");
  const [start, setStart] = useState(0);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const looked = useSettled(find, 200);
  const { fail } = useToast();
  const { gather, writes } = useParaphraseChanges();
  const book = useCodebook();
  const sources = useFields().find((one) => one.key === "source")?.values ?? [];
  const asked = { find: looked, source: source || null, sort: sort as "text" };
  const found = useParaphrases({ ...asked, start });
  const page = found.data;
  const all = page?.paraphrases ?? [];
  const ask = (set: (value: string) => void) => (value: string) => {
    set(value);
    setStart(0);
    setChosen(new Set());
  };
  const take = (to: { code_id?: number; new?: string }, ids: readonly number[] = [...chosen]) => {
    if (!ids.length) return;
    gather.mutate({ paraphrases: [...ids], code_id: to.code_id ?? null, new: to.new ?? "" });
    setChosen(new Set());
  };
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/paraphrases/export?form=${form}`, asked).catch(fail);
  return (
    <div className="flex h-full flex-col">
      <NotebookHead>
        <Menu
          trigger={<Button>Export</Button>}
          items={[
            { label: "As .csv", onSelect: () => save("csv") },
            { label: "As .xlsx", onSelect: () => save("xlsx") },
          ]}
        />
        <About topic="notebook">
          What readers put in their own words, beside the words themselves. Choose some, or drag them, onto a
          code: their words in the text become its passages, and the paraphrases stay.
        </About>
      </NotebookHead>
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <div className="flex flex-wrap items-center gap-2 border-b border-line bg-sheet px-4 py-2.5">
            <Input
              type="search"
              aria-label="Find in paraphrases"
              placeholder="Find in paraphrases"
              value={find}
              onChange={(event) => ask(setFind)(event.target.value)}
              className="max-w-[240px]"
            />
            {sources.length > 1 && (
              <Select
                aria-label="Source of paraphrases"
                value={source}
                choices={[
                  { value: "", label: "any source" },
                  ...sources.flatMap(({ label }) => (label ? [{ value: label, label }] : [])),
                ]}
                onChange={ask(setSource)}
                className="w-auto! max-w-[200px]"
              />
            )}
            <Select
              aria-label="Order of paraphrases"
              value={sort}
              choices={SORTS}
              onChange={ask(setSort)}
              className="w-auto!"
            />
            <b className="ml-auto" data-testid="paraphrase-count">
              {page ? plural(page.total, "paraphrase") : ""}
            </b>
          </div>
          <div className="min-h-0 flex-1 overflow-auto bg-sheet">
            {found.error && <Failure error={found.error} />}
            {found.isPending && <Waiting what="Reading the paraphrases" />}
            {page && !page.total && (
              <Empty title="No paraphrases">
                {find || source
                  ? "None fits. Look for other words, or take a choice away."
                  : "While reading in Coding, choose words and take “Paraphrase”; what you write is gathered here."}
              </Empty>
            )}
            {all.length > 0 && (
              <>
                <div
                  className={`sticky top-0 z-10 grid ${GRID} items-center gap-3 border-b border-line2 bg-sheet px-3 py-1.5 font-semibold text-ink2`}
                >
                  <input
                    type="checkbox"
                    aria-label="Choose all paraphrases of this page"
                    checked={all.every((one) => chosen.has(one.id))}
                    onChange={(event) =>
                      setChosen(new Set(event.target.checked ? all.map((one) => one.id) : []))
                    }
                  />
                  <span>Text</span>
                  <span>Paraphrase</span>
                  <span>The words</span>
                  <span>Codes on them</span>
                </div>
                <ul>
                  {all.map((one) => (
                    <Row
                      key={one.id}
                      one={one}
                      codes={one.codes.flatMap((id) => book.byId.get(id) ?? [])}
                      chosen={chosen.has(one.id)}
                      writes={writes}
                      onChoose={() => {
                        const next = new Set(chosen);
                        if (!next.delete(one.id)) next.add(one.id);
                        setChosen(next);
                      }}
                      onDrag={(event) => {
                        const ids = chosen.has(one.id) ? [...chosen] : [one.id];
                        event.dataTransfer.setData(DRAGGED, JSON.stringify(ids));
                        event.dataTransfer.effectAllowed = "copy";
                      }}
                    />
                  ))}
                </ul>
                {page && page.total > PARAPHRASES_AT_ONCE && (
                  <div className="flex items-center gap-3 px-4 py-3 text-ink2">
                    <Button disabled={start === 0} onClick={() => setStart(start - PARAPHRASES_AT_ONCE)}>
                      ‹ Before
                    </Button>
                    {whole(start + 1)} to {whole(Math.min(start + PARAPHRASES_AT_ONCE, page.total))} of{" "}
                    {whole(page.total)}
                    <Button
                      disabled={start + PARAPHRASES_AT_ONCE >= page.total}
                      onClick={() => setStart(start + PARAPHRASES_AT_ONCE)}
                    >
                      After ›
                    </Button>
                  </div>
                )}
              </>
            )}
          </div>
        </div>
        {writes && <Gather codes={book.codes} chosen={chosen.size} onTake={take} />}
      </div>
    </div>
  );
}

function Row({
  one,
  codes,
  chosen,
  writes,
  onChoose,
  onDrag,
}: {
  one: Paraphrase;
  codes: readonly Code[];
  chosen: boolean;
  writes: boolean;
  onChoose: () => void;
  onDrag: (event: DragEvent) => void;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const { change, remove } = useParaphraseChanges();
  const [open, setOpen] = useState(false);
  const draft = useDraft({
    of: `paraphrase ${one.id}`,
    stored: one.body,
    revision: one.revision,
    save: (body, revision) => change.mutateAsync({ paraphrase: { ...one, revision }, body }),
    empty: false,
  });
  const editing = open || draft.typing;
  return (
    <li
      draggable={writes && !editing}
      onDragStart={onDrag}
      data-testid="paraphrase"
      className={`grid ${GRID} items-start gap-3 border-b border-line px-3 py-2 ${chosen ? "bg-tint" : ""}`}
    >
      <input
        type="checkbox"
        aria-label={`Choose “${one.body.slice(0, 40)}”`}
        checked={chosen}
        onChange={onChoose}
        className="mt-1"
      />
      <Link
        to={`/projects/${project_id}/coding/read/${one.text_id}${search}`}
        className="min-w-0 hover:underline"
        title="Read it in its text"
      >
        <span className="block truncate font-semibold text-bottle">{one.title}</span>
        <span className="block truncate text-[11.5px] text-ink2">
          {[one.source, date(one.date), one.mine ? "you" : one.author].filter(Boolean).join(", ")}
        </span>
      </Link>
      {!editing ? (
        <div className="group flex min-w-0 items-start gap-1">
          <p className="min-w-0 flex-1 break-words">{one.body}</p>
          {writes && (
            <span className="flex shrink-0 gap-1.5 text-[11.5px] text-ink2 opacity-0 group-hover:opacity-100 group-focus-within:opacity-100">
              <button type="button" onClick={() => setOpen(true)} className="hover:text-ink">
                change
              </button>
              <button type="button" onClick={() => remove.mutate(one)} className="hover:text-rust">
                delete
              </button>
            </span>
          )}
        </div>
      ) : (
        <Textarea
          autoFocus
          aria-label="Paraphrase"
          rows={2}
          maxLength={5000}
          {...draft.field}
          onFocus={toEnd}
          onBlur={() => {
            draft.keep();
            setOpen(false);
          }}
          onKeyDown={(event) => {
            draft.field.onKeyDown(event);
            if (event.key === "Escape") setOpen(false);
            if (event.key === "Enter" && !event.shiftKey) {
              event.preventDefault();
              draft.keep();
              setOpen(false);
            }
          }}
        />
      )}
      <p className="line-clamp-3 min-w-0 font-serif text-[14.5px] leading-[1.45]">
        {one.words || <span className="font-sans text-rust">These words are no longer in the text.</span>}
      </p>
      <div className="min-w-0">
        {codes.map((code) => (
          <div key={code.id} className="flex items-baseline">
            <Sign code={code} />
            <span className="truncate">{code.name}</span>
          </div>
        ))}
      </div>
    </li>
  );
}

/** Where paraphrases are gathered: under a new code, or one of the codebook. */
function Gather({
  codes,
  chosen,
  onTake,
}: {
  codes: readonly Code[];
  chosen: number;
  onTake: (to: { code_id?: number; new?: string }, ids?: readonly number[]) => void;
}) {
  const [name, setName] = useState("");
  const [over, setOver] = useState(0);
  const dropped = (event: DragEvent, to: { code_id?: number; new?: string }) => {
    event.preventDefault();
    setOver(0);
    const ids = JSON.parse(event.dataTransfer.getData(DRAGGED) || "[]") as number[];
    onTake(to, ids);
  };
  const drag = (id: number) => ({
    onDragOver: (event: DragEvent) => {
      if (!event.dataTransfer.types.includes(DRAGGED)) return;
      event.preventDefault();
      setOver(id);
    },
    onDragLeave: () => setOver(0),
  });
  return (
    <section
      aria-label="Gather under a code"
      className="flex w-[226px] shrink-0 flex-col border-l border-line2 px-3 pt-3"
    >
      <h2 className="mb-1 font-bold">Gather under a code</h2>
      <p className="mb-2 text-ink2">
        {chosen
          ? `${plural(chosen, "paraphrase")} chosen: take a code.`
          : "Choose paraphrases, or drag them here."}
      </p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!name.trim() || !chosen) return;
          onTake({ new: name.trim() });
          setName("");
        }}
      >
        <Input
          aria-label="Name of a new code"
          placeholder="A new code"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
        />
        {name.trim() && (
          <Button type="submit" look="main" className="mt-1.5" disabled={!chosen}>
            Make it and gather
          </Button>
        )}
      </form>
      <ul className="mt-2 min-h-0 flex-1 overflow-auto pb-3">
        {codes.map((code) => (
          <li key={code.id} style={{ paddingLeft: code.depth * 13 }}>
            <button
              type="button"
              disabled={!chosen}
              onClick={() => onTake({ code_id: code.id })}
              {...drag(code.id)}
              onDrop={(event) => dropped(event, { code_id: code.id })}
              className={`flex w-full items-center rounded px-1 py-1 text-left ${over === code.id ? "outline outline-bottle" : ""} ${chosen ? "hover:bg-tint" : "text-ink2"}`}
            >
              <Sign code={code} />
              <span className="truncate">{code.name}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
