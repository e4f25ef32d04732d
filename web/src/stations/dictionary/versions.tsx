import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema, saveFile } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useProjectId, useScope, useSummary, useUsualSplit } from "../../data/project";
import { date, plural } from "../../lib/numbers";
import { Button, Failure, MoreMenu, Select, Waiting } from "../../parts/controls";
import { LongField, TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { Sides } from "./sides";

/** States of a dictionary: named, compared, gone back to. */
export function Versions({
  tree,
  all,
  writes,
}: {
  tree: Schema["DictionaryTree"];
  all: readonly Schema["DictionaryPublic"][];
  writes: boolean;
}) {
  const project_id = useProjectId();
  const { tell, fail } = useToast();
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const [first, setFirst] = useState("");
  const path = { path: { project_id, dictionary_id: tree.id } };
  const found = useQuery({
    queryKey: keys.of(project_id, "versions", tree.id, tree.version, tree.version_kept),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/versions", { params: path })),
  });
  const keep = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/versions", {
          params: path,
          body: { name, note },
        }),
      ),
    (out) => {
      setName("");
      setNote("");
      tell(`Version ${out.label} is named “${name.trim()}”.`);
    },
    "terms",
  );
  const back = useChange(
    (number: number) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/versions/{number}/back", {
          params: { path: { ...path.path, number } },
        }),
      ),
    (out) => tell(`${out.label}. Undo goes forward again.`),
    "terms",
  );
  if (found.isPending) return <Waiting what="Opening the versions" />;
  if (found.error) return <Failure error={found.error} />;
  const versions = found.data;
  const choices = [
    ...versions.map((one) => ({
      value: `${tree.id}.${one.number}`,
      label: `version ${one.number}${one.name ? ` “${one.name}”` : ""}${one.now ? " (now)" : ""}`,
    })),
    ...all
      .filter((one) => one.id !== tree.id)
      .map((one) => ({ value: `${one.id}.`, label: `dictionary ${one.name}` })),
  ];
  const now = versions.find((one) => one.now)?.number;
  const others = choices.filter((one) => one.value !== `${tree.id}.${now}`);
  const before = versions.find((one) => !one.now);
  const stamp = tree.categories
    .map(
      (one) => `${one.id}.${one.revision}.${one.terms.map((term) => `${term.id}.${term.revision}`).join()}`,
    )
    .join(";");
  const chosen = first || (before ? `${tree.id}.${before.number}` : "");
  const [other, number] = chosen.split(".");
  return (
    <div>
      <h1 className="text-[19px] font-[650]">Versions of {tree.name}</h1>
      <p className="mt-0.5 mb-3 max-w-[80ch] text-ink2">
        A version is kept whenever numbers made with the dictionary leave the project, when it is judged,
        exported or named, so that a published number can be traced to its terms. Going back is a change like
        others: undo takes it back.
      </p>
      <div className="grid grid-cols-[minmax(360px,1fr)_300px] items-start gap-5">
        <table
          className="w-full overflow-hidden rounded-md border border-line bg-sheet"
          aria-label="Versions"
        >
          <thead className="text-ink2">
            <tr>
              {["Version", "Name", "Terms", "When", "By", ""].map((head, at) => (
                <th
                  key={head}
                  className={`border-b border-line2 px-2.5 py-1.5 font-semibold ${at === 2 ? "text-right" : "text-left"}`}
                >
                  {head || <span className="sr-only">Actions</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {versions.map((one) => (
              <tr
                key={one.number}
                className={`h-[30px] border-b border-line last:border-0 ${one.now ? "bg-tint" : ""}`}
              >
                <td className="px-2.5 font-semibold whitespace-nowrap">
                  {one.number}
                  {one.now && <span className="ml-1.5 font-normal text-ink2">now</span>}
                </td>
                <td className="px-2.5" title={one.note || undefined}>
                  {one.name || <span className="text-ink3">–</span>}
                  {one.note && <span className="ml-2 text-ink2">note</span>}
                </td>
                <td className="px-2.5 text-right">{one.terms}</td>
                <td className="px-2.5 whitespace-nowrap">{date(one.made_at.slice(0, 10))}</td>
                <td className="px-2.5 whitespace-nowrap">{one.by}</td>
                <td className="w-[34px] px-1 text-right">
                  <MoreMenu
                    label={`Menu of version ${one.number}`}
                    items={[
                      {
                        label: "Compare with now",
                        onSelect: () => setFirst(`${tree.id}.${one.number}`),
                        disabled: one.now,
                      },
                      ...(writes
                        ? [
                            {
                              label: "Restore it",
                              onSelect: () => back.mutate(one.number),
                              disabled: one.now,
                            },
                          ]
                        : []),
                      ...["csv", "xlsx", "json"].map((form) => ({
                        label: `Export as .${form}`,
                        onSelect: () =>
                          void saveFile(
                            `/api/v1/projects/${project_id}/dictionaries/${tree.id}/export?form=${form}&version=${one.number}`,
                          ).catch(fail),
                      })),
                    ]}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {writes && (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              keep.mutate(undefined);
            }}
            className="rounded-md border border-line bg-sheet px-3.5 py-3"
          >
            <b>Name the current state</b>
            <div className="mt-2">
              <TextField
                label="Name"
                value={name}
                maxLength={120}
                placeholder="as in the report of May"
                onChange={setName}
              />
            </div>
            <LongField label="Note" rows={2} value={note} onChange={setNote} />
            <Button look="main" type="submit" disabled={!name.trim() || keep.isPending}>
              Name{" "}
              {tree.version_kept ? `version ${tree.version}` : `it version ${(versions[0]?.number ?? 0) + 1}`}
            </Button>
          </form>
        )}
      </div>
      <div className="mt-5 flex items-center gap-2">
        <b>What changed, from</b>
        {others.length > 0 ? (
          <Select
            aria-label="Compare with"
            value={chosen}
            choices={others}
            onChange={setFirst}
            className="!w-[280px]"
          />
        ) : (
          <span className="text-ink2">There is only one version so far.</span>
        )}
        {others.length > 0 && <b>to now</b>}
      </div>
      {others.length > 0 && chosen && (
        <SidesHere
          first={{ dictionary_id: Number(other), version: number ? Number(number) : null }}
          second={{ dictionary_id: tree.id, version: null }}
          stamp={stamp}
        />
      )}
    </div>
  );
}

function SidesHere({
  first,
  second,
  stamp,
}: {
  first: Schema["Side"];
  second: Schema["Side"];
  stamp: string;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const split = useUsualSplit();
  const body = { first, second, scope: [...scope], split };
  const found = useQuery({
    queryKey: keys.of(project_id, "sides", revision, stamp, body),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/side-by-side", {
          params: { path: { project_id } },
          body,
        }),
      ),
  });
  if (found.isPending) return <Waiting what="Comparing" />;
  if (found.error) return <Failure error={found.error} />;
  const { terms, categories_added, categories_removed } = found.data;
  const count = (kind: string) => terms.filter((one) => one.kind === kind).length;
  return (
    <div className="mt-2">
      <p className="mb-2">
        {terms.length || categories_added.length || categories_removed.length
          ? `${plural(count("added"), "term")} added, ${count("removed")} removed, ${count("changed")} changed${categories_added.length ? `; new categories: ${categories_added.join(", ")}` : ""}${categories_removed.length ? `; categories gone: ${categories_removed.join(", ")}` : ""}.`
          : "The two count alike: the same categories, terms and options."}
      </p>
      {terms.length > 0 && (
        <div className="mb-3 max-h-[260px] overflow-auto rounded-md border border-line bg-sheet">
          <table className="w-full" aria-label="Changed terms">
            <tbody>
              {terms.map((one, at) => (
                <tr key={at} className="border-b border-line last:border-0">
                  <td
                    className={`w-[76px] px-2.5 py-1 font-semibold ${one.kind === "removed" ? "text-rust" : "text-bottle"}`}
                  >
                    {one.kind}
                  </td>
                  <td className="px-2.5 text-ink2">{one.category}</td>
                  <td className="px-2.5">
                    {one.before && (
                      <span className={one.kind === "removed" ? "line-through" : ""}>{one.before}</span>
                    )}
                    {one.kind === "changed" && " → "}
                    {one.after}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <Sides sides={found.data} request={body} />
    </div>
  );
}
