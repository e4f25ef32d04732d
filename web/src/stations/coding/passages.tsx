import { useState } from "react";
import { api, data, type Schema, saveFile } from "../../api/client";
import { useCodebook, useCodes } from "../../data/coding";
import { useChange, useProjectId, useScope, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Input, Menu, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { FoundRow, PAGE, type Question, useFound } from "./found";
import { CodingHead } from "./head";
import { CodebookPanel } from "./panel";

type Beside = Schema["BesideAsked"];
const RELATIONS: { value: string; label: string }[] = [
  { value: "", label: "wherever they stand" },
  { value: "overlapping", label: "that overlap with" },
  { value: "inside", label: "that lie within" },
  { value: "around", label: "that hold" },
  { value: "followed by", label: "that come before" },
  { value: "after", label: "that come after" },
  { value: "in one text", label: "in texts with" },
];

const NO_CODES: readonly number[] = [];
const NONE_HIDDEN: ReadonlySet<number> = new Set();

/** Passages across texts: a question built as a sentence, what it finds, and what can be done with it. */
export function Passages() {
  const project_id = useProjectId();
  const { scope } = useScope();
  const book = useCodebook();
  const { split } = useCodes();
  const { fail, tell } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [codes, setCodes] = useState<number[]>([]);
  const [coder, setCoder] = useState("");
  const [relation, setRelation] = useState("");
  const [other, setOther] = useState("");
  const [without, setWithout] = useState(false);
  const [start, setStart] = useState(0);
  const [fresh, setFresh] = useState("");
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const question: Question = {
    codes,
    coders: coder ? [Number(coder)] : [],
    strength: 0,
    beside:
      relation && other
        ? [{ relation: relation as Beside["relation"], codes: [Number(other)], without }]
        : [],
  };
  const found = useFound(question, start);
  const asked =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      setStart(0);
      setTicked(new Set());
    };
  const change = useChange(
    (code_id: number | null) =>
      data(
        api.POST("/api/v1/projects/{project_id}/passages/change", {
          params: { path: { project_id } },
          body: { passages: [...ticked], code_id },
        }),
      ),
    (done) => {
      setTicked(new Set());
      tell(`${done.label}: ${plural(done.texts, "passage")}. Undo brings it back.`);
    },
    "coding",
  );
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/passages/export?form=${form}`, {
      ...question,
      scope: [...scope],
    }).catch(fail);
  const choices = book.codes.map((one) => ({
    value: String(one.id),
    label: `${"  ".repeat(one.depth)}${one.name}`,
  }));
  const page = found.data;
  const all = page?.passages ?? [];
  // what is chosen on this page alone, and is under one code, can become a code of its own
  const codesChosen = new Set(all.filter((one) => ticked.has(one.id)).map((one) => one.code_id));
  const onPage = all.filter((one) => ticked.has(one.id)).length === ticked.size;
  const ofOneCode = onPage && codesChosen.size === 1 ? [...codesChosen][0]! : null;
  return (
    <div className="flex h-full flex-col">
      <CodingHead>
        <About topic="coding">
          Passages of the scope that a question asks for. A code is asked for with all codes below it.
          Passages overlap where they share a letter; one lies within another also on the same words.
        </About>
      </CodingHead>
      <div className="flex min-h-0 flex-1">
        <CodebookPanel
          here={null}
          recent={NO_CODES}
          chosen={codes.length === 1 ? codes[0]! : null}
          hidden={NONE_HIDDEN}
          onCode={(one) =>
            asked(setCodes)(codes.includes(one.id) ? codes.filter((id) => id !== one.id) : [one.id])
          }
        />
        <div className="flex min-w-0 flex-1 flex-col">
          <div
            className="flex flex-wrap items-center gap-x-2 gap-y-1.5 border-b border-line bg-sheet px-4 py-2.5"
            data-testid="question"
          >
            <span>Passages of</span>
            {codes.map((id) => (
              <span key={id} className="rounded border border-line2 bg-wash px-1.5 py-px">
                {book.byId.get(id)?.name}{" "}
                <button
                  type="button"
                  aria-label={`Without ${book.byId.get(id)?.name}`}
                  className="text-ink2"
                  onClick={() => asked(setCodes)(codes.filter((one) => one !== id))}
                >
                  ×
                </button>
              </span>
            ))}
            <Select
              aria-label="Code asked for"
              value=""
              choices={[
                { value: "", label: codes.length ? "or…" : "any code" },
                ...choices.filter(({ value }) => !codes.includes(Number(value))),
              ]}
              onChange={(value) => value && asked(setCodes)([...codes, Number(value)])}
              className="w-auto! max-w-[170px]"
            />
            <span>by</span>
            <Select
              aria-label="Coder"
              value={coder}
              choices={[
                { value: "", label: "anybody" },
                ...(book.data?.coders ?? []).map((one) => ({
                  value: String(one.id),
                  label: one.me ? "you" : one.name,
                })),
              ]}
              onChange={asked(setCoder)}
              className="w-auto!"
            />
            {relation && (
              <Select
                aria-label="With or without"
                value={without ? "without" : "with"}
                choices={[
                  { value: "with", label: "only those" },
                  { value: "without", label: "but none" },
                ]}
                onChange={(value) => asked(setWithout)(value === "without")}
                className="w-auto!"
              />
            )}
            <Select
              aria-label="How they lie"
              value={relation}
              choices={RELATIONS}
              onChange={asked(setRelation)}
              className="w-auto!"
            />
            {relation && (
              <Select
                aria-label="Other code"
                value={other}
                choices={[{ value: "", label: "choose a code" }, ...choices]}
                onChange={asked(setOther)}
                className="w-auto! max-w-[170px]"
              />
            )}
            <span className="ml-auto flex items-center gap-2">
              <b data-testid="found-count">
                {page ? `${plural(page.total, "passage")} in ${plural(page.texts, "text")}` : ""}
              </b>
              <Menu
                trigger={<Button>Export</Button>}
                items={[
                  { label: "As .csv", onSelect: () => save("csv") },
                  { label: "As .xlsx", onSelect: () => save("xlsx") },
                ]}
              />
            </span>
          </div>
          {ticked.size > 0 && writes && (
            <div className="flex items-center gap-3 border-b border-line bg-tint px-4 py-1.5">
              <b>{plural(ticked.size, "passage")} chosen</b>
              <Select
                aria-label="Move to"
                value=""
                choices={[{ value: "", label: "Move to…" }, ...choices]}
                onChange={(value) => value && change.mutate(Number(value))}
                className="w-auto! max-w-[190px]"
              />
              <Button onClick={() => change.mutate(null)}>Take off</Button>
              {ofOneCode !== null && (
                <form
                  className="flex items-center gap-1.5"
                  onSubmit={(event) => {
                    event.preventDefault();
                    if (!fresh.trim()) return;
                    split.mutate({ code_id: ofOneCode, name: fresh.trim(), passages: [...ticked] });
                    setFresh("");
                    setTicked(new Set());
                  }}
                >
                  <Input
                    aria-label="Name of a new code for these"
                    placeholder="A new code beside"
                    value={fresh}
                    maxLength={120}
                    onChange={(event) => setFresh(event.target.value)}
                    className="w-[150px]!"
                  />
                  <Button type="submit" disabled={!fresh.trim()}>
                    Split off
                  </Button>
                </form>
              )}
              <Button look="ghost" onClick={() => setTicked(new Set())}>
                Choose none
              </Button>
            </div>
          )}
          <div className="min-h-0 flex-1 overflow-auto bg-sheet">
            {found.error && <Failure error={found.error} />}
            {found.isPending && <Waiting what="Looking for passages" />}
            {page && !all.length && (
              <Empty title="No passages">
                {book.codes.length
                  ? "Nothing in the scope is coded so. Ask otherwise above, or read and code."
                  : "Read a text, choose words and put them under a code; what is coded is gathered here."}
              </Empty>
            )}
            {all.length > 0 && (
              <>
                <label className="flex items-center gap-2 border-b border-line px-3 py-1 text-ink2">
                  <input
                    type="checkbox"
                    checked={all.every((one) => ticked.has(one.id))}
                    onChange={(event) =>
                      setTicked(new Set(event.target.checked ? [...ticked, ...all.map((one) => one.id)] : []))
                    }
                  />
                  all of this page
                </label>
                <ul>
                  {all.map((one) => (
                    <FoundRow
                      key={one.id}
                      one={one}
                      code={book.byId.get(one.code_id)}
                      ticked={ticked.has(one.id)}
                      onTick={() => {
                        const next = new Set(ticked);
                        if (!next.delete(one.id)) next.add(one.id);
                        setTicked(next);
                      }}
                    />
                  ))}
                </ul>
                {page && page.total > PAGE && (
                  <div className="flex items-center gap-3 px-4 py-3 text-ink2">
                    <Button disabled={start === 0} onClick={() => setStart(start - PAGE)}>
                      ‹ Before
                    </Button>
                    {whole(start + 1)} to {whole(Math.min(start + PAGE, page.total))} of {whole(page.total)}
                    <Button disabled={start + PAGE >= page.total} onClick={() => setStart(start + PAGE)}>
                      After ›
                    </Button>
                  </div>
                )}
              </>
            )}
          </div>
        </div>
      </div>
    </div>
  );
}
