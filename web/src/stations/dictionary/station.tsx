import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, data, saveFile, type Schema } from "../../api/client";
import { percent, plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Menu, Select, Swatch, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { useAddress, useChange, useProjectId, useRefresh, useScope, useSummary } from "../../shell/project";
import { CategoryView } from "./category";
import { NameForm } from "./nameform";

type Tree = Schema["DictionaryTree"];
type Counts = Schema["DictionaryCounts"];

export function DictionaryStation() {
  const project_id = useProjectId();
  const [wanted, setWanted] = useAddress("dictionary", "");
  const summary = useSummary().data;
  const all = useQuery({
    queryKey: ["project", project_id, "dictionaries"],
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/dictionaries", { params: { path: { project_id } } })),
  });
  if (all.isPending || !summary) return <Waiting what="Opening the dictionary" />;
  if (all.error) return <div className="p-4"><Failure error={all.error} /></div>;
  const chosen = all.data.find((one) => String(one.id) === wanted) ?? all.data[0];
  if (!chosen) return <NoDictionary onMade={(id) => setWanted(String(id))} writes={summary.role !== "reader"} />;
  return <Station key={chosen.id} id={chosen.id} all={all.data} onChoose={(id) => setWanted(String(id))} writes={summary.role !== "reader"} />;
}

function useMakeDictionary(onMade: (id: number) => void) {
  const project_id = useProjectId();
  return useChange(
    (name: string) => data(api.POST("/api/v1/projects/{project_id}/dictionaries", { params: { path: { project_id } }, body: { name } })),
    (made) => onMade(made.id),
  );
}

/** Import a dictionary from a chosen file. */
function useDictionaryImport() {
  const project_id = useProjectId();
  const refresh = useRefresh();
  const { tell, fail } = useToast();
  const input = useRef<HTMLInputElement>(null);
  const take = useMutation({
    mutationFn: async (file: File) => {
      const form = new FormData();
      form.append("file", file);
      const answer = await fetch(`/api/v1/projects/${project_id}/dictionaries/import`, { method: "POST", body: form });
      const body = await answer.json();
      if (!answer.ok) throw new Error(body.detail);
      return body as Schema["TermsAdded"];
    },
    onSuccess: async (out) => {
      const first = out.refused[0] ? ` Not taken: ${out.refused.length}, first: ${out.refused[0].what}: ${out.refused[0].reason}` : "";
      tell(`${plural(out.added, "term")} imported${out.doubles ? `, ${out.doubles} doubles left out` : ""}.${first}`);
      await refresh();
    },
    onError: fail,
  });
  const element = (
    <input ref={input} type="file" accept=".csv,.tsv,text/csv" hidden data-testid="dictionary-file" onChange={(event) => {
      const file = event.target.files?.[0];
      if (file) take.mutate(file);
      event.target.value = "";
    }} />
  );
  return { element, choose: () => input.current?.click(), busy: take.isPending };
}

function NoDictionary({ onMade, writes }: { onMade: (id: number) => void; writes: boolean }) {
  const make = useMakeDictionary(onMade);
  const file = useDictionaryImport();
  return (
    <Empty title="No dictionary yet">
      <p className="mb-4">A dictionary holds categories, and each category the terms that stand for it. Begin with a name, or import a .csv with the columns category and term.</p>
      {writes && (
        <>
          <NameForm label="Name of the dictionary" action="Make dictionary" onSubmit={(name) => make.mutate(name)} />
          <div className="mt-3"><Button onClick={file.choose} disabled={file.busy}>Import from .csv</Button></div>
          {file.element}
        </>
      )}
    </Empty>
  );
}

function Station({ id, all, onChoose, writes }: { id: number; all: readonly Schema["DictionaryPublic"][]; onChoose: (id: number) => void; writes: boolean }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const path = { params: { path: { project_id, dictionary_id: id } } };
  const tree = useQuery({ queryKey: ["project", project_id, "dictionary", id], queryFn: () => data(api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", path)) });
  const counts = useQuery({
    queryKey: ["project", project_id, "counts", id, scope],
    queryFn: () => data(api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/counts", { ...path, body: { scope: [...scope], split: { field: "source" } } })),
    placeholderData: (before) => before,
  });
  const [category, setCategory] = useAddress("category", "");
  const categories = tree.data?.categories ?? [];
  const chosen = categories.find((one) => String(one.id) === category) ?? categories[0];
  if (tree.isPending) return <Waiting what="Opening the dictionary" />;
  if (tree.error) return <div className="p-4"><Failure error={tree.error} /></div>;
  return (
    <div className="flex h-full">
      <Categories tree={tree.data} counts={counts.data} chosen={chosen?.id ?? null} all={all} writes={writes} onChoose={(one) => setCategory(String(one))} onDictionary={onChoose} />
      <div className="min-w-0 flex-1 overflow-auto px-4 py-3.5">
        {counts.error && <div className="mb-3"><Failure error={counts.error} /></div>}
        {chosen ? (
          <CategoryView key={chosen.id} dictionary={tree.data} category={chosen} counts={counts.data} writes={writes} />
        ) : (
          <Empty title="No category yet">A category gathers the terms that stand for one thing, for example a frame or a topic. Add the first one on the left.</Empty>
        )}
      </div>
    </div>
  );
}

interface CategoriesProps {
  tree: Tree;
  counts: Counts | undefined;
  chosen: number | null;
  all: readonly Schema["DictionaryPublic"][];
  writes: boolean;
  onChoose: (id: number) => void;
  onDictionary: (id: number) => void;
}

function Categories({ tree, counts, chosen, all, writes, onChoose, onDictionary }: CategoriesProps) {
  const project_id = useProjectId();
  const [adding, setAdding] = useState<"" | "category" | "inside" | "dictionary">("");
  const file = useDictionaryImport();
  const { tell, fail } = useToast();
  const path = { path: { project_id, dictionary_id: tree.id } };
  const make = useChange(
    (given: { name: string; parent_id: number | null }) => data(api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories", { params: path, body: { ...given, description: "" } })),
    (done) => {
      setAdding("");
      onChoose(Number(done.label));
    },
  );
  const makeDictionary = useMakeDictionary(onDictionary);
  const drop = useChange(
    () => data(api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", { params: path })),
    () => tell("Dictionary deleted. Undo brings it back."),
  );
  const save = () => void saveFile(`/api/v1/projects/${project_id}/dictionaries/${tree.id}/export`).catch(fail);
  const hits = new Map(counts?.categories.map((one) => [one.id, one]));
  return (
    <section aria-label="Categories" className="flex w-[224px] shrink-0 flex-col overflow-auto border-r border-line2 px-3 py-3.5">
      <div className="mb-2 flex items-baseline gap-2 px-1">
        {all.length > 1 ? (
          <Select aria-label="Dictionary" value={String(tree.id)} choices={all.map((one) => ({ value: String(one.id), label: one.name }))} onChange={(value) => onDictionary(Number(value))} className="font-semibold" />
        ) : (
          <b className="truncate text-[14px]">{tree.name}</b>
        )}
        <span className="ml-auto text-ink2" title="Version: it grows with each state that was counted with">v{tree.version}</span>
        <Menu
          trigger={<button type="button" aria-label="Dictionary menu" className="px-1 font-bold text-ink2 hover:text-ink">⋯</button>}
          items={[
            { label: "Export as .csv", onSelect: save },
            ...(writes
              ? [
                  { label: "Import another from .csv", onSelect: file.choose },
                  { label: "New dictionary", onSelect: () => setAdding("dictionary") },
                  { label: "Delete this dictionary", onSelect: () => drop.mutate(undefined), danger: true },
                ]
              : []),
          ]}
        />
      </div>
      {file.element}
      {adding === "dictionary" && <NameForm label="Name of the new dictionary" action="Make" onCancel={() => setAdding("")} onSubmit={(name) => { setAdding(""); makeDictionary.mutate(name); }} />}
      <ul>
        {tree.categories.map((one) => (
          <li key={one.id}>
            <button
              type="button"
              aria-current={one.id === chosen}
              onClick={() => onChoose(one.id)}
              style={{ paddingLeft: 8 + one.depth * 14 }}
              className={`grid w-full grid-cols-[1fr_auto] rounded-[5px] py-1.5 pr-2 text-left ${one.id === chosen ? "bg-tint font-bold" : "hover:bg-wash"}`}
            >
              <span className="truncate"><Swatch colour={one.colour} />{one.name}</span>
              <span className="font-normal text-ink2">{hits.has(one.id) ? whole(hits.get(one.id)!.hits) : ""}</span>
              <span className="col-span-2 pl-4 text-[11.5px] font-normal text-ink2">{plural(one.terms.length, "term")}</span>
            </button>
          </li>
        ))}
      </ul>
      {writes && adding !== "category" && adding !== "inside" && (
        <div className="mt-1.5 flex flex-wrap gap-x-2">
          <Button look="ghost" onClick={() => setAdding("category")}>+ Category</Button>
          {chosen !== null && <Button look="ghost" onClick={() => setAdding("inside")}>+ Within this one</Button>}
        </div>
      )}
      {(adding === "category" || adding === "inside") && (
        <NameForm
          label={adding === "inside" ? `New category within ${tree.categories.find((one) => one.id === chosen)?.name ?? ""}` : "New category"}
          action="Add"
          onCancel={() => setAdding("")}
          onSubmit={(name) => make.mutate({ name, parent_id: adding === "inside" ? chosen : null })}
        />
      )}
      {counts && <Health counts={counts} />}
    </section>
  );
}

function Health({ counts }: { counts: Counts }) {
  const share = counts.texts_in_scope ? counts.texts_matched / counts.texts_in_scope : null;
  return (
    <div className="mt-5 px-1 text-ink2">
      <div title={`${whole(counts.texts_matched)} of ${whole(counts.texts_in_scope)} texts`}><b className="text-ink">{percent(share)}</b> of {whole(counts.texts_in_scope)} texts match at least one term.</div>
      {counts.empty_terms.length > 0 && <div className="text-rust"><b>{counts.empty_terms.length}</b> {counts.empty_terms.length === 1 ? "term matches" : "terms match"} nothing in the corpus.</div>}
      {counts.double_terms.length > 0 && <div className="text-rust"><b>{counts.double_terms.length}</b> entries stand in more than one category.</div>}
    </div>
  );
}
