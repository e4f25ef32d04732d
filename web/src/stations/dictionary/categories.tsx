import { type DragEvent, useState } from "react";
import { api, data, type Schema, saveFile } from "../../api/client";
import { keyed, useAdding } from "../../data/adding";
import { useMakeDictionary } from "../../data/dictionaries";
import { useChange, useProjectId } from "../../data/project";
import { percent, plural, whole } from "../../lib/numbers";
import { Button, Dialog, Menu, Select, Swatch } from "../../parts/controls";
import { LongField, TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import type { FileUse } from "./file";
import { NameForm } from "./nameform";

type Tree = Schema["DictionaryTree"];
type Counts = Schema["DictionaryCounts"];
const DRAGGED = "application/x-winnower-category";

interface Props {
  tree: Tree;
  counts: Counts | undefined;
  care: Schema["CarePublic"] | undefined;
  chosen: number | null;
  all: readonly Schema["DictionaryPublic"][];
  writes: boolean;
  view: string;
  onView: (view: string) => void;
  onChoose: (id: number) => void;
  onDictionary: (id: number) => void;
  onFile: (use: FileUse) => void;
  onDelete: () => void;
}

/** The tree of categories; one dropped on another lies in it, dropped on a line it stands before what follows. */
export function Categories({
  tree,
  counts,
  care,
  chosen,
  all,
  writes,
  view,
  onView,
  onChoose,
  onDictionary,
  onFile,
  onDelete,
}: Props) {
  const project_id = useProjectId();
  const { fail } = useToast();
  const [adding, setAdding] = useState<"" | "category" | "inside" | "dictionary" | "copy">("");
  // what new categories lie in, whichever is chosen by the time they are made
  const [inside, setInside] = useState<number | null>(null);
  const [renaming, setRenaming] = useState(false);
  const path = { path: { project_id, dictionary_id: tree.id } };
  const make = useAdding({
    line: `categories of ${tree.id}`,
    label: ({ name }: { name: string; parent_id: number | null }) => name,
    send: (given, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories", {
          params: path,
          body: { ...given, description: "" },
          ...keyed(key),
        }),
      ),
    done: (made) => onChoose(Number(made.label)),
    change: "terms",
  });
  const makeDictionary = useMakeDictionary(onDictionary);
  const copy = useChange(
    (name: string) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/copy", {
          params: path,
          body: { name },
        }),
      ),
    (made) => {
      setAdding("");
      onDictionary(made.id);
    },
    "terms",
  );
  const rename = useChange(
    (values: { name: string; description: string }) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", {
          params: path,
          body: { revision: tree.revision, ...values },
        }),
      ),
    () => setRenaming(false),
    "terms",
  );
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/dictionaries/${tree.id}/export?form=${form}`).catch(fail);
  return (
    <section
      aria-label="Categories"
      className="flex w-[224px] shrink-0 flex-col overflow-auto border-r border-line2 px-3 py-3.5"
    >
      <div className="mb-2 flex items-baseline gap-2 px-1">
        {all.length > 1 ? (
          <Select
            aria-label="Dictionary"
            value={String(tree.id)}
            choices={all.map((one) => ({ value: String(one.id), label: one.name }))}
            onChange={(value) => onDictionary(Number(value))}
            className="font-semibold"
          />
        ) : (
          <b className="truncate text-[14px]" title={tree.description || undefined}>
            {tree.name}
          </b>
        )}
        <button
          type="button"
          onClick={() => onView("versions")}
          className="ml-auto text-ink2 hover:text-bottle hover:underline"
          title={
            tree.version_kept
              ? "Versions: what was changed, and going back"
              : tree.version
                ? `Changed since version ${tree.version}; it becomes a version when it is judged, exported or named`
                : "Not a version yet; it becomes one when it is judged, exported or named"
          }
        >
          {tree.version ? `v${tree.version}${tree.version_kept ? "" : " +"}` : "new"}
        </button>
        <Menu
          trigger={
            <button
              type="button"
              aria-label="Dictionary menu"
              className="px-1 font-bold text-ink2 hover:text-ink"
            >
              ⋯
            </button>
          }
          items={[
            { label: "Versions", onSelect: () => onView("versions") },
            { label: "Export as .csv", onSelect: () => save("csv") },
            { label: "Export as .xlsx", onSelect: () => save("xlsx") },
            { label: "Export as .json", onSelect: () => save("json") },
            ...(writes
              ? [
                  { label: "Merge a file into this one", onSelect: () => onFile({ as: "merge" }) },
                  { label: "Rename and describe", onSelect: () => setRenaming(true) },
                  { label: "Copy this dictionary", onSelect: () => setAdding("copy") },
                  { label: "Import another from a file", onSelect: () => onFile({ as: "new" }) },
                  { label: "New dictionary", onSelect: () => setAdding("dictionary") },
                  { label: "Delete this dictionary", onSelect: onDelete, danger: true },
                ]
              : []),
          ]}
        />
      </div>
      {adding === "dictionary" && (
        <NameForm
          label="Name of the new dictionary"
          action="Make"
          onCancel={() => setAdding("")}
          onSubmit={(name) => {
            setAdding("");
            makeDictionary.add(name);
          }}
        />
      )}
      {adding === "copy" && (
        <NameForm
          label="Name of the copy"
          action="Copy"
          initial={`${tree.name}, copy`}
          onCancel={() => setAdding("")}
          onSubmit={(name) => copy.mutate(name)}
        />
      )}
      <WaitingRows of={makeDictionary} />
      <TreeList tree={tree} counts={counts} chosen={chosen} writes={writes} onChoose={onChoose} />
      <WaitingRows of={make} />
      {writes && (
        <div className="mt-1.5 flex flex-wrap gap-x-2">
          <Button look="ghost" onClick={() => setAdding("category")}>
            + Category
          </Button>
          {chosen !== null && (
            <Button
              look="ghost"
              onClick={() => {
                setInside(chosen);
                setAdding("inside");
              }}
            >
              + Within this one
            </Button>
          )}
        </div>
      )}
      {(adding === "category" || adding === "inside") && (
        <NameForm
          key={adding}
          label={
            adding === "inside"
              ? `New category within ${tree.categories.find((one) => one.id === inside)?.name ?? ""}`
              : "New category"
          }
          action="Add"
          onCancel={() => setAdding("")}
          another
          onSubmit={(name) => make.add({ name, parent_id: adding === "inside" ? inside : null })}
        />
      )}
      {counts && <Health counts={counts} care={care} open={view === "care"} onCare={() => onView("care")} />}
      <Dialog title="Rename and describe" open={renaming} onClose={() => setRenaming(false)}>
        <RenameForm
          tree={tree}
          onSave={(values) => rename.mutate(values)}
          onClose={() => setRenaming(false)}
        />
      </Dialog>
    </section>
  );
}

function RenameForm({
  tree,
  onSave,
  onClose,
}: {
  tree: Tree;
  onSave: (values: { name: string; description: string }) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(tree.name);
  const [description, setDescription] = useState(tree.description);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        onSave({ name, description });
      }}
    >
      <TextField label="Name" value={name} maxLength={200} autoFocus onChange={setName} />
      <LongField label="What it is for" rows={4} value={description} onChange={setDescription} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button look="main" type="submit" disabled={!name.trim()}>
          Save
        </Button>
      </div>
    </form>
  );
}

type Over = { id: number; where: "in" | "before" } | null;

function TreeList({
  tree,
  counts,
  chosen,
  writes,
  onChoose,
}: Pick<Props, "tree" | "counts" | "chosen" | "writes" | "onChoose">) {
  const project_id = useProjectId();
  const [over, setOver] = useState<Over>(null);
  const hits = new Map(counts?.categories.map((one) => [one.id, one]));
  const move = useChange(
    (given: { id: number; revision: number; parent_id: number | null; before_id: number | null }) => {
      const { id, ...body } = given;
      return data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/move", {
          params: { path: { project_id, dictionary_id: tree.id, category_id: id } },
          body,
        }),
      );
    },
    undefined,
    "terms",
  );
  const where = (event: DragEvent): "in" | "before" => {
    const box = event.currentTarget.getBoundingClientRect();
    return event.clientY - box.top < box.height * 0.28 ? "before" : "in";
  };
  const drop = (event: DragEvent, one: Schema["CategoryPublic"]) => {
    event.preventDefault();
    setOver(null);
    const id = Number(event.dataTransfer.getData(DRAGGED));
    const dragged = tree.categories.find((other) => other.id === id);
    if (!dragged || id === one.id) return;
    move.mutate({
      id,
      revision: dragged.revision,
      ...(where(event) === "in"
        ? { parent_id: one.id, before_id: null }
        : { parent_id: one.parent_id, before_id: one.id }),
    });
  };
  return (
    <ul>
      {tree.categories.map((one) => (
        <li key={one.id}>
          <button
            type="button"
            draggable={writes}
            aria-current={one.id === chosen}
            onClick={() => onChoose(one.id)}
            onDragStart={(event) => event.dataTransfer.setData(DRAGGED, String(one.id))}
            onDragOver={(event) => {
              if (!event.dataTransfer.types.includes(DRAGGED)) return;
              event.preventDefault();
              setOver({ id: one.id, where: where(event) });
            }}
            onDragLeave={() => setOver(null)}
            onDrop={(event) => drop(event, one)}
            style={{ paddingLeft: 8 + one.depth * 14 }}
            className={`grid w-full grid-cols-[1fr_auto] rounded-[5px] py-1.5 pr-2 text-left ${one.id === chosen ? "bg-tint font-bold" : "hover:bg-wash"} ${over?.id === one.id ? (over.where === "in" ? "outline outline-bottle" : "border-t-2 border-bottle") : ""}`}
          >
            <span className="truncate">
              <Swatch colour={one.colour} />
              {one.name}
            </span>
            <span className="font-normal text-ink2">
              {hits.has(one.id) ? whole(hits.get(one.id)!.hits) : ""}
            </span>
            <span className="col-span-2 pl-4 text-[11.5px] font-normal text-ink2">
              {plural(one.terms.length, "term")}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function Health({
  counts,
  care,
  open,
  onCare,
}: {
  counts: Counts;
  care: Schema["CarePublic"] | undefined;
  open: boolean;
  onCare: () => void;
}) {
  const share = counts.texts_in_scope ? counts.texts_matched / counts.texts_in_scope : null;
  const points = [
    [
      counts.empty_terms.length,
      counts.empty_terms.length === 1 ? "term matches nothing" : "terms match nothing",
    ],
    [counts.double_terms.length, "entries stand in two categories"],
    [
      care?.overlaps.length ?? 0,
      care?.overlaps.length === 1 ? "pair of categories overlaps" : "pairs of categories overlap",
    ],
    [care?.idle.length ?? 0, care?.idle.length === 1 ? "term adds nothing" : "terms add nothing"],
    [
      care?.carrying.length ?? 0,
      care?.carrying.length === 1 ? "term carries its category" : "terms carry their category",
    ],
    [care?.mixed.length ?? 0, "may have two meanings"],
  ].filter(([count]) => Number(count) > 0);
  return (
    <div className="mt-5 px-1 text-ink2">
      <div title={`${whole(counts.texts_matched)} of ${whole(counts.texts_in_scope)} texts`}>
        <b className="text-ink">{percent(share)}</b> of {whole(counts.texts_in_scope)} texts match at least
        one term.
      </div>
      {points.length > 0 && (
        <button
          type="button"
          onClick={onCare}
          aria-current={open}
          className={`mt-2 -ml-1 block w-full rounded-[5px] px-1 py-1 text-left hover:bg-wash ${open ? "bg-tint" : ""}`}
        >
          <span className="font-semibold text-bottle">Warnings</span>
          {points.map(([count, what]) => (
            <span key={what} className="block text-rust">
              <b>{count}</b> {what}
            </span>
          ))}
        </button>
      )}
    </div>
  );
}
