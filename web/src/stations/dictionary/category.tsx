import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { three, whole } from "../../lib/numbers";
import { Button, Dialog, Failure, Field, Input, Menu, Swatch } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { useChange, useProjectId, useScope, useSummary } from "../../shell/project";
import { Falls } from "./falls";
import { TermEntry } from "./entry";
import { NameForm } from "./nameform";

type Category = Schema["CategoryPublic"];
type Term = Schema["TermPublic"];
type SortKey = "term" | "hits" | "texts" | "evenness";

interface Props {
  dictionary: Schema["DictionaryTree"];
  category: Category;
  counts: Schema["DictionaryCounts"] | undefined;
  writes: boolean;
}

export function CategoryView({ dictionary, category, counts, writes }: Props) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { show } = useEvidence();
  const [renaming, setRenaming] = useState(false);
  const own = counts?.categories.find((one) => one.id === category.id);
  const revision = useSummary().data?.revision;
  const terms = category.terms.map((term) => `${term.id}:${term.revision}`).join();
  const profiles = useQuery({
    queryKey: ["project", project_id, "profile", revision, dictionary.id, category.id, terms, scope],
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/profile", {
          params: { path: { project_id, dictionary_id: dictionary.id, category_id: category.id } },
          body: { scope: [...scope], split: { field: "source" } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const path = { path: { project_id, dictionary_id: dictionary.id, category_id: category.id } };
  const { tell } = useToast();
  const change = useChange(
    (values: { name?: string; description?: string; colour?: number }) => data(api.PATCH("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}", { params: path, body: { revision: category.revision, ...values } })),
    () => setRenaming(false),
  );
  const drop = useChange(
    () => data(api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}", { params: path })),
    () => tell("Category deleted. Undo brings it back."),
  );
  const openAll = () => show({ title: category.name, colour: category.colour, scope, request: { dictionary_id: dictionary.id, category_id: category.id, terms: [], split: {} } });
  return (
    <div>
      <div className="flex items-baseline gap-2.5">
        <h1 className="flex items-center text-[19px] font-[650]"><Swatch colour={category.colour} />{category.name}</h1>
        {own && (
          <button type="button" onClick={openAll} className="whitespace-nowrap text-bottle hover:underline">
            {whole(own.hits)} hits in {whole(own.texts)} texts
          </button>
        )}
        <span className="ml-auto flex items-center gap-1">
          <About topic="dictionary">A term is one word or several in a row; * stands for any letters, ? for one. Within a category every word counts once: of overlapping hits the longest wins. The small columns show hits per 1,000 words by source.</About>
          {writes && (
            <Menu
              trigger={<button type="button" aria-label="Category menu" className="px-1.5 font-bold text-ink2 hover:text-ink">⋯</button>}
              items={[
                { label: "Rename and describe", onSelect: () => setRenaming(true) },
                ...[0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((colour) => ({ label: <span><Swatch colour={colour} />Colour {colour + 1}{colour === category.colour ? " ✓" : ""}</span>, onSelect: () => change.mutate({ colour }) })),
                { label: "Delete this category", onSelect: () => drop.mutate(undefined), danger: true },
              ]}
            />
          )}
        </span>
      </div>
      {category.description && <p className="mt-0.5 max-w-[70ch] text-ink2">{category.description}</p>}
      {writes && <TermEntry dictionary={dictionary} category={category} />}
      {profiles.error && <Failure error={profiles.error} />}
      <TermTable dictionary={dictionary} category={category} profiles={profiles.data} counts={counts} writes={writes} />
      <Dialog title="Rename and describe" open={renaming} onClose={() => setRenaming(false)}>
        <DescribeForm category={category} onSave={(values) => change.mutate(values)} onClose={() => setRenaming(false)} />
      </Dialog>
    </div>
  );
}

function DescribeForm({ category, onSave, onClose }: { category: Category; onSave: (values: { name: string; description: string }) => void; onClose: () => void }) {
  const [name, setName] = useState(category.name);
  const [description, setDescription] = useState(category.description);
  return (
    <form onSubmit={(event) => { event.preventDefault(); onSave({ name, description }); }}>
      <Field label="Name">{(id) => <Input id={id} value={name} maxLength={120} onChange={(event) => setName(event.target.value)} autoFocus />}</Field>
      <Field label="What belongs here">{(id) => <textarea id={id} rows={4} value={description} onChange={(event) => setDescription(event.target.value)} className="w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1" />}</Field>
      <div className="flex justify-end gap-2"><Button onClick={onClose}>Leave it</Button><Button look="main" type="submit" disabled={!name.trim()}>Save</Button></div>
    </form>
  );
}

interface TableProps {
  dictionary: Schema["DictionaryTree"];
  category: Category;
  profiles: Schema["CategoryProfiles"] | undefined;
  counts: Schema["DictionaryCounts"] | undefined;
  writes: boolean;
}

function TermTable({ dictionary, category, profiles, counts, writes }: TableProps) {
  const [sort, setSort] = useState<{ key: SortKey; down: boolean }>({ key: "hits", down: true });
  if (!category.terms.length) return <p className="mt-4 text-ink2">No term in this category itself yet. Type one above: what it catches shows while you type.</p>;
  const profileOf = (term: Term) => profiles?.terms[String(term.id)];
  const value = (term: Term): string | number => {
    const profile = profileOf(term);
    if (sort.key === "term") return term.source.toLowerCase();
    return (sort.key === "hits" ? profile?.hits : sort.key === "texts" ? profile?.texts : profile?.evenness) ?? -1;
  };
  const terms = [...category.terms].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    const order = typeof x === "string" ? x.localeCompare(String(y)) : x - Number(y);
    return (sort.down ? -order : order) || a.id - b.id;
  });
  const head = (key: SortKey, name: string, left = false) => (
    <th aria-sort={sort.key === key ? (sort.down ? "descending" : "ascending") : "none"} className={`border-b border-line2 px-2.5 py-1.5 font-semibold text-ink2 ${left ? "text-left" : "text-right"}`}>
      <button type="button" onClick={() => setSort({ key, down: sort.key === key ? !sort.down : key !== "term" })} className="font-semibold whitespace-nowrap hover:text-ink">
        {name}{sort.key === key ? (sort.down ? " ↓" : " ↑") : ""}
      </button>
    </th>
  );
  const top = Math.max(0, ...Object.values(profiles?.terms ?? {}).flatMap((p) => p.group_rates.map((r) => r ?? 0)));
  return (
    <table className="mt-3 w-full overflow-hidden rounded-md border border-line bg-sheet" aria-label="Terms">
      <thead>
        <tr>
          {head("term", "Term", true)}
          {head("hits", "Hits")}
          {head("texts", "Texts")}
          <th className="border-b border-line2 px-2.5 py-1.5 text-left font-semibold whitespace-nowrap text-ink2">Where it falls <span className="font-normal">(per 1,000 words by source)</span></th>
          {head("evenness", "Evenness")}
          <th className="border-b border-line2"><span className="sr-only">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        {terms.map((term) => (
          <TermRow key={term.id} dictionary={dictionary} category={category} term={term} profile={profileOf(term)} groups={profiles?.groups ?? []} top={top} double={counts?.double_terms.includes(term.id) ?? false} writes={writes} />
        ))}
      </tbody>
    </table>
  );
}

function TermRow({ dictionary, category, term, profile, groups, top, double, writes }: { dictionary: Schema["DictionaryTree"]; category: Category; term: Term; profile: Schema["TermProfile"] | undefined; groups: readonly string[]; top: number; double: boolean; writes: boolean }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { shown, show } = useEvidence();
  const { tell } = useToast();
  const [changing, setChanging] = useState(false);
  const path = { path: { project_id, dictionary_id: dictionary.id, term_id: term.id } };
  const change = useChange(
    (values: Omit<Schema["TermUpdate"], "revision">) => data(api.PATCH("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/terms/{term_id}", { params: path, body: { revision: term.revision, ...values } })),
    () => setChanging(false),
  );
  const drop = useChange(
    () => data(api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/terms/{term_id}", { params: path })),
    () => tell(`“${term.source}” deleted. Undo brings it back.`),
  );
  const open = (group?: string) =>
    show({
      title: group ? `“${term.source}” in ${group}` : `“${term.source}” in ${category.name}`,
      colour: category.colour,
      scope,
      request: { terms: [{ source: term.source, match_case: term.match_case, ignore_accents: term.ignore_accents, note: "" }], split: group ? { field: "source" } : {}, group: group ?? null },
    });
  const isOpen = shown?.request.terms?.[0]?.source === term.source;
  const options = [term.match_case ? "exact case" : "", term.ignore_accents ? "accents ignored" : ""].filter(Boolean).join(", ");
  const forms = profile?.forms.slice(0, 12).map((one) => `${one.form} ${whole(one.hits)}`).join(", ");
  return (
    <tr className={`h-[30px] border-b border-line last:border-0 ${isOpen ? "bg-tint" : "hover:bg-wash"}`}>
      <td className="px-2.5">
        <button type="button" onClick={() => open()} title={forms ? `Catches ${forms}` : undefined} className="text-left font-semibold hover:underline">{term.source}</button>
        {options && <span className="ml-2 text-ink2">{options}</span>}
        {double && <span className="ml-2 text-rust">in two categories</span>}
        {profile?.remark && <span className="ml-2 text-rust" title={profile.remark}>very common</span>}
        {term.note && <span className="ml-2 text-ink2" title={term.note}>note</span>}
      </td>
      <td className={`px-2.5 text-right ${profile?.hits === 0 ? "font-bold text-rust" : ""}`}>{profile ? whole(profile.hits) : "…"}</td>
      <td className="px-2.5 text-right">{profile ? whole(profile.texts) : ""}</td>
      <td className="px-2.5">{profile && <Falls groups={groups} rates={profile.group_rates} hits={profile.group_hits} colour={category.colour} top={top} onOpen={open} />}</td>
      <td className="px-2.5 text-right">{three(profile?.evenness)}</td>
      <td className="w-[34px] px-1 text-right">
        {writes && (
          <Menu
            trigger={<button type="button" aria-label={`Menu of ${term.source}`} className="px-1.5 font-bold text-ink3 hover:text-ink">⋯</button>}
            items={[
              { label: "Change wording", onSelect: () => setChanging(true) },
              { label: term.match_case ? "Ignore case" : "Match exact case", onSelect: () => change.mutate({ match_case: !term.match_case }) },
              { label: term.ignore_accents ? "Let accents count" : "Ignore accents", onSelect: () => change.mutate({ ignore_accents: !term.ignore_accents }) },
              ...dictionary.categories.filter((one) => one.id !== category.id).map((one) => ({ label: <span>Move to <Swatch colour={one.colour} className="ml-1" />{one.name}</span>, onSelect: () => change.mutate({ category_id: one.id }) })),
              { label: "Delete", onSelect: () => drop.mutate(undefined), danger: true },
            ]}
          />
        )}
        <Dialog title="Change wording" open={changing} onClose={() => setChanging(false)}>
          <NameForm label="Term" action="Save" initial={term.source} onSubmit={(source) => change.mutate({ source })} onCancel={() => setChanging(false)} />
        </Dialog>
      </td>
    </tr>
  );
}

