import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useDictionaries, useDictionary, useMakeDictionary } from "../../data/dictionaries";
import { keys } from "../../data/keys";
import { useAddress, useChange, useProjectId, useScope, useSummary, useUsualSplit } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button, Empty, Failure, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { CareView } from "./care";
import { Categories } from "./categories";
import { CategoryView } from "./category";
import { DictionaryFile, type FileUse } from "./file";
import { NameForm } from "./nameform";
import { Versions } from "./versions";

export function DictionaryStation() {
  const [wanted, setWanted] = useAddress("dictionary", "");
  const summary = useSummary().data;
  const all = useDictionaries();
  if (all.isPending || !summary) return <Waiting what="Opening the dictionary" />;
  if (all.error)
    return (
      <div className="p-4">
        <Failure error={all.error} />
      </div>
    );
  const chosen = all.data.find((one) => String(one.id) === wanted) ?? all.data[0];
  if (!chosen)
    return <NoDictionary onMade={(id) => setWanted(String(id))} writes={summary.role !== "reader"} />;
  return (
    <Station
      key={chosen.id}
      id={chosen.id}
      all={all.data}
      onChoose={(id) => setWanted(String(id))}
      writes={summary.role !== "reader"}
    />
  );
}

function NoDictionary({ onMade, writes }: { onMade: (id: number) => void; writes: boolean }) {
  const make = useMakeDictionary(onMade);
  const [file, setFile] = useState<FileUse | null>(null);
  return (
    <Empty title="No dictionary yet">
      <p className="mb-4">
        A dictionary holds categories, and each category the terms that stand for it. Begin with a name, or
        import a table with the columns category and term, or a plain list of words.
      </p>
      {writes && (
        <>
          <NameForm
            label="Name of the dictionary"
            action="Make dictionary"
            another
            onSubmit={(name) => make.add(name)}
          />
          <WaitingRows of={make} className="mx-auto mt-2 max-w-[320px]" />
          <div className="mt-3">
            <Button onClick={() => setFile({ as: "new" })}>Import from a file</Button>
          </div>
          <DictionaryFile use={file} tree={null} onMade={onMade} onClose={() => setFile(null)} />
        </>
      )}
    </Empty>
  );
}

function Station({
  id,
  all,
  onChoose,
  writes,
}: {
  id: number;
  all: readonly Schema["DictionaryPublic"][];
  onChoose: (id: number) => void;
  writes: boolean;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const { tell } = useToast();
  const path = { params: { path: { project_id, dictionary_id: id } } };
  const split = useUsualSplit();
  const body = { scope: [...scope], split };
  const tree = useDictionary(id);
  const counts = useQuery({
    queryKey: keys.of(project_id, "counts", id, revision, scope),
    queryFn: () =>
      data(api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/counts", { ...path, body })),
    placeholderData: (before) => before,
  });
  const care = useQuery({
    queryKey: keys.of(project_id, "care", id, revision, scope),
    queryFn: () =>
      data(api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/care", { ...path, body })),
    placeholderData: (before) => before,
  });
  const [category, setCategory] = useAddress("category", "");
  const [view, setView] = useAddress("view", "");
  const [file, setFile] = useState<FileUse | null>(null);
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", {
          params: { ...path.params, query: { revision: tree.data?.revision ?? 0 } },
        }),
      ),
    () => tell("Dictionary deleted. Undo brings it back."),
  );
  const categories = tree.data?.categories ?? [];
  const chosen = categories.find((one) => String(one.id) === category) ?? categories[0];
  if (tree.isPending) return <Waiting what="Opening the dictionary" />;
  if (tree.error)
    return (
      <div className="p-4">
        <Failure error={tree.error} />
      </div>
    );
  const choose = (one: number) => {
    setView("");
    setCategory(String(one));
  };
  return (
    <div className="flex h-full">
      <Categories
        tree={tree.data}
        counts={counts.data}
        care={care.data}
        chosen={view ? null : (chosen?.id ?? null)}
        all={all}
        writes={writes}
        view={view}
        onView={setView}
        onChoose={choose}
        onDictionary={onChoose}
        onFile={setFile}
        onDelete={() => drop.mutate(undefined)}
      />
      <div className="min-w-0 flex-1 overflow-auto px-4 py-3.5">
        {counts.error && (
          <div className="mb-3">
            <Failure error={counts.error} />
          </div>
        )}
        {view === "care" ? (
          <CareView
            tree={tree.data}
            counts={counts.data}
            care={care.data}
            writes={writes}
            onCategory={choose}
          />
        ) : view === "versions" ? (
          <Versions tree={tree.data} all={all} writes={writes} />
        ) : chosen ? (
          <CategoryView
            key={chosen.id}
            dictionary={tree.data}
            category={chosen}
            counts={counts.data}
            care={care.data}
            writes={writes}
          />
        ) : (
          <Empty title="No category yet">
            A category gathers the terms that stand for one thing, for example a frame or a topic. Add the
            first one on the left.
          </Empty>
        )}
      </div>
      <DictionaryFile use={file} tree={tree.data} onMade={onChoose} onClose={() => setFile(null)} />
      <span className="sr-only" role="status">
        {plural(categories.length, "category", "categories")}
      </span>
    </div>
  );
}
