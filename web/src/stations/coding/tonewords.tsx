import { useState } from "react";
import { useProjectId } from "../../data/project";
import {
  type ToneWord,
  useMakeToneList,
  useToneChanges,
  useToneLists,
  useToneWords,
  WORDS_AT_ONCE,
} from "../../data/tones";
import { plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Dialog, Empty, Failure, Input, Menu, Segments, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { Renamed } from "./renamed";
import { Pages } from "./runresults";

type Show = "all" | "own" | "used";
const ROLES = [
  { value: "weight", label: "weight, −4 to 4" },
  { value: "negation", label: "negation" },
  { value: "intensifier", label: "intensifier, −1 to 1" },
];

/** The words tone is measured with: those that ship to look at, those of the project to change. */
export function ToneWords({
  list,
  writes,
  onList,
  onClose,
}: {
  list: number | null;
  writes: boolean;
  onList: (list: number | null) => void;
  onClose: () => void;
}) {
  const lists = useToneLists();
  const one = lists.data?.find((other) => other.id === list);
  const [find, setFind] = useState("");
  const [show, setShow] = useState<Show>("used");
  const [start, setStart] = useState(0);
  const wanted = useSettled(find, 250);
  const found = useToneWords(list ?? 0, wanted, show, start);
  const { set, add } = useToneChanges(list ?? 0);
  const own = list !== null && writes;
  return (
    <Dialog title={one?.name ?? "Words for tone"} open onClose={onClose} wide>
      <Head list={list} writes={writes} onList={onList} />
      {own && <AddWord onAdd={add.add} />}
      <WaitingRows of={add} className="mb-2" />
      <div className="mb-2 flex flex-wrap items-center gap-2.5">
        <Input
          aria-label="Find a word"
          placeholder="Find a word"
          value={find}
          onChange={(event) => {
            setFind(event.target.value);
            setStart(0);
          }}
          className="w-[160px]!"
        />
        <Segments
          label="Which words"
          value={show}
          onChange={(value) => {
            setShow(value as Show);
            setStart(0);
          }}
          choices={[
            { value: "used", label: "In the texts" },
            { value: "all", label: "All" },
            ...(own ? [{ value: "own", label: "Changed" }] : []),
          ]}
        />
        <span className="ml-auto text-ink2">{found.data && plural(found.data.total, "word")}</span>
      </div>
      {found.error && <Failure error={found.error} />}
      {found.isPending && <Waiting what="Opening the words" />}
      {found.data && !found.data.total && (
        <Empty title="No such word">
          {own ? "Add it above, or look among all words." : "Look among all words."}
        </Empty>
      )}
      {found.data && found.data.total > 0 && (
        <>
          <table className="w-full border-collapse">
            <thead>
              <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
                <th className="py-1 text-left font-normal">word</th>
                <th className="py-1 text-left font-normal">is a</th>
                <th className="py-1 font-normal">value</th>
                <th className="py-1 pl-4 font-normal">as it ships</th>
                <th className="py-1 pl-4 font-normal">in the texts</th>
                {own && <th className="w-[86px]" />}
              </tr>
            </thead>
            <tbody>
              {found.data.words.map((word) => (
                <Row
                  key={`${word.role} ${word.word}`}
                  one={word}
                  own={own}
                  onSet={(value) => set.mutate([{ role: word.role, word: word.word, value }])}
                />
              ))}
            </tbody>
          </table>
          <Pages start={start} most={WORDS_AT_ONCE} total={found.data.total} onStart={setStart} />
        </>
      )}
    </Dialog>
  );
}

/** What can be done with the list as a whole. */
function Head({
  list,
  writes,
  onList,
}: {
  list: number | null;
  writes: boolean;
  onList: (list: number | null) => void;
}) {
  const project_id = useProjectId();
  const lists = useToneLists();
  const { tell } = useToast();
  const make = useMakeToneList((made) => onList(made.id));
  const { take, remove, rename } = useToneChanges(list ?? 0);
  const [renaming, setRenaming] = useState(false);
  const [replace, setReplace] = useState(false);
  const one = lists.data?.find((other) => other.id === list);
  const free = (wanted: string) => {
    const taken = new Set(lists.data?.map((other) => other.name));
    let name = wanted;
    for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
    return name;
  };
  const href = (form: string) => `/api/v1/projects/${project_id}/tone-lists/${list ?? 0}/export?form=${form}`;
  const refused = take.data?.refused ?? [];
  return (
    <div className="mb-3">
      <p className="mb-2 text-ink2">
        {list === null
          ? "The English list that ships with Winnower, with 7,500 words and their weights (Hutto and Gilbert 2014). It cannot be changed; a list of your own begins as it is."
          : `${one ? plural(one.own, "word") : ""} of its own${one?.version ? `; version ${one.version} ${one.changed_since ? "was used in a run, and it was changed since" : "is how it is now"}` : "; not used in a run yet"}.`}
      </p>
      <div className="flex flex-wrap items-center gap-2">
        {writes && list === null && (
          <>
            <Button
              look="main"
              onClick={() => make.mutate({ name: free("Own words for tone"), base: "english" })}
            >
              Make an own list from it
            </Button>
            <Button onClick={() => make.mutate({ name: free("Words of another language"), base: "none" })}>
              Begin an empty one
            </Button>
          </>
        )}
        <Menu
          trigger={<Button look="ghost">Export</Button>}
          items={[
            { label: "As .csv", onSelect: () => window.location.assign(href("csv")) },
            { label: "As .xlsx", onSelect: () => window.location.assign(href("xlsx")) },
          ]}
        />
        {writes && list !== null && (
          <>
            <label className="flex items-center gap-2">
              Take words from a file
              <input
                type="file"
                accept=".csv,.tsv,.txt,.xlsx,.xls,.ods"
                onChange={(event) => {
                  const file = event.target.files?.[0];
                  event.target.value = "";
                  if (file)
                    take.mutate(
                      { file, replace },
                      {
                        onSuccess: (out) =>
                          tell(`${plural(out.changed, "word")} of ${whole(out.taken)} changed the list.`),
                      },
                    );
                }}
              />
            </label>
            <label className="flex items-center gap-1.5">
              <input type="checkbox" checked={replace} onChange={() => setReplace(!replace)} />
              in place of all words
            </label>
            {one && renaming ? (
              <Renamed
                of={`tone list ${one.id}`}
                name={one.name}
                onDone={(name) => {
                  setRenaming(false);
                  if (name && name !== one.name) rename.mutate({ name, revision: one.revision });
                }}
              />
            ) : (
              <Button look="ghost" className="ml-auto" onClick={() => setRenaming(true)}>
                Rename
              </Button>
            )}
            <Button
              look="ghost"
              onClick={() => one && remove.mutate(one.revision, { onSuccess: () => onList(null) })}
            >
              Delete the list
            </Button>
          </>
        )}
      </div>
      {refused.length > 0 && (
        <ul className="mt-2 max-h-[110px] overflow-auto text-rust" aria-label="Rows that were not taken">
          {refused.map((row) => (
            <li key={`${row.what} ${row.reason}`}>
              {row.what}: {row.reason}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function AddWord({
  onAdd,
}: {
  onAdd: (word: { role: ToneWord["role"]; word: string; value: number }) => void;
}) {
  const [word, setWord] = useState("");
  const [role, setRole] = useState<ToneWord["role"]>("weight");
  const [value, setValue] = useState("");
  const number = numberOf(value);
  const ready = word.trim() !== "" && (role === "negation" || number !== null);
  return (
    <form
      className="mb-3 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        onAdd({ role, word: word.trim(), value: number ?? 1 });
        setWord("");
        setValue("");
      }}
    >
      <Input
        aria-label="New word"
        placeholder="a word"
        value={word}
        maxLength={60}
        onChange={(event) => setWord(event.target.value)}
        className="w-[150px]!"
      />
      <Select
        aria-label="What it is"
        value={role}
        choices={ROLES}
        onChange={(next) => setRole(next as ToneWord["role"])}
        className="w-auto!"
      />
      {role !== "negation" && (
        <Input
          aria-label="Its value"
          placeholder="value"
          inputMode="decimal"
          value={value}
          onChange={(event) => setValue(event.target.value)}
          className="w-[70px]!"
        />
      )}
      <Button type="submit" disabled={!ready}>
        Add
      </Button>
    </form>
  );
}

function Row({ one, own, onSet }: { one: ToneWord; own: boolean; onSet: (value: number | null) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const written = one.value === null ? "" : String(one.value);
  const changed = one.value !== one.shipped;
  const settle = () => {
    const number = typed === null ? null : numberOf(typed);
    if (typed !== null && number !== null && number !== one.value) onSet(number);
    setTyped(null);
  };
  return (
    <tr className={`border-b border-line text-right ${one.value === null ? "text-ink2 line-through" : ""}`}>
      <td className="py-1 text-left font-semibold">{one.word}</td>
      <td className="text-left">{one.role}</td>
      <td>
        {own && one.role !== "negation" ? (
          <Input
            aria-label={`Value of ${one.word}`}
            inputMode="decimal"
            value={typed ?? written}
            placeholder="taken out"
            onChange={(event) => setTyped(event.target.value)}
            onBlur={settle}
            onKeyDown={(event) => {
              if (event.key === "Enter") settle();
              if (event.key === "Escape" && typed !== null) {
                event.stopPropagation();
                setTyped(null);
              }
            }}
            className="w-[72px]! text-right"
          />
        ) : one.role === "negation" ? (
          "turns"
        ) : (
          written
        )}
      </td>
      <td className="pl-4 text-ink2">
        {one.shipped === null ? "not in it" : one.role === "negation" ? "turns" : one.shipped}
      </td>
      <td className="pl-4">{whole(one.hits)}</td>
      {own && (
        <td className="pl-2">
          {changed ? (
            <Button look="ghost" onClick={() => onSet(one.shipped)}>
              {one.shipped === null ? "Take out" : "As shipped"}
            </Button>
          ) : (
            <Button look="ghost" onClick={() => onSet(null)}>
              Take out
            </Button>
          )}
        </td>
      )}
    </tr>
  );
}

/** A number as people write it, null where it is none. */
function numberOf(typed: string): number | null {
  const plain = typed.trim().replace(",", ".").replace("−", "-");
  const found = Number(plain);
  return plain === "" || Number.isNaN(found) ? null : found;
}
