import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useDeferredValue, useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, data, type Schema } from "../api/client";
import { keys } from "../data/keys";
import { useProjectId, useScope } from "../data/project";
import { carried } from "../lib/scope";

type Hit = Schema["GoToHit"];
const KINDS: Record<Hit["kind"], string> = {
  text: "Texts",
  category: "Categories",
  term: "Terms",
  subcorpus: "Subcorpora",
  source: "Sources",
};
const PLACES = [
  { label: "Corpus", path: "corpus" },
  { label: "Words", path: "corpus/words" },
  { label: "In context", path: "corpus/context" },
  { label: "Search", path: "corpus/search" },
  { label: "Import texts", path: "corpus/import" },
  { label: "Deliveries", path: "corpus/deliveries" },
  { label: "Dictionary", path: "dictionary" },
  { label: "Compare", path: "compare" },
];

/** Go to anything by name: stations, texts, categories, terms, subcorpora, sources. */
export function GoTo({ open, onClose }: { open: boolean; onClose: () => void }) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { scope, setScope } = useScope();
  const [typed, setTyped] = useState("");
  const q = useDeferredValue(typed.trim());
  const found = useQuery({
    queryKey: keys.of(project_id, "goto", q),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/go-to", { params: { path: { project_id }, query: { q } } }),
      ),
    enabled: open && q.length > 0,
    placeholderData: (before) => before,
  });
  const close = () => {
    setTyped("");
    onClose();
  };
  const go = (path: string, more: Record<string, string> = {}) => {
    const next = carried(search);
    for (const [name, value] of Object.entries(more)) next.set(name, value);
    void navigate(`/projects/${project_id}/${path}?${next}`);
    close();
  };
  const take = (hit: Hit) => {
    if (hit.kind === "text") go(`corpus/${hit.id}`);
    else if (hit.kind === "category" || hit.kind === "term")
      go("dictionary", { dictionary: String(hit.parent_id), category: String(hit.id) });
    else if (hit.kind === "source") {
      setScope([...scope, { kind: "values", field: "source", values: [hit.label], exclude: false }]);
      close();
    } else void takeSubcorpus(hit.id);
  };
  const takeSubcorpus = async (id: number) => {
    const kept = await data(
      api.GET("/api/v1/projects/{project_id}/subcorpora", { params: { path: { project_id } } }),
    );
    setScope(kept.find((one) => one.id === id)?.scope ?? scope);
    close();
  };
  const hits = q ? (found.data ?? []) : [];
  const first = hits[0] ? `${hits[0].kind}${hits[0].id}-0` : q ? "search-texts" : "";
  const [chosen, setChosen] = useState("");
  // with each key the list chooses its topmost item; what was found comes before "In the texts"
  // biome-ignore lint/correctness/useExhaustiveDependencies: q is the key that was pressed
  useEffect(() => {
    if (first) setChosen(first);
  }, [first, q]);
  const groups = [...new Set(hits.map((hit) => hit.kind))];
  const item = "flex cursor-pointer items-baseline gap-3 rounded px-2.5 py-1.5 data-[selected=true]:bg-tint";
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(next) => !next && close()}
      label="Go to"
      shouldFilter={false}
      value={chosen}
      onValueChange={setChosen}
      overlayClassName="fixed inset-0 z-40 bg-black/30"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[92vw] max-w-[560px] -translate-x-1/2 overflow-hidden rounded-lg border border-line2 bg-sheet shadow-xl"
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="Go to a text, category, term, source or view; or search the texts"
        className="w-full border-b border-line bg-sheet px-4 py-3 text-[14px] outline-none placeholder:text-ink3"
      />
      <Command.List className="max-h-[50vh] overflow-auto p-2">
        {q && found.isFetched && !hits.length && <div className="px-2.5 py-2 text-ink2">No match.</div>}
        {q && (
          <Command.Group
            heading={<div className="px-2.5 pt-1 pb-1 text-[11.5px] font-bold text-ink2">In the texts</div>}
          >
            <Command.Item value="search-texts" onSelect={() => go("corpus/search", { q })} className={item}>
              Search the texts for “{q}”
            </Command.Item>
            <Command.Item value="read-context" onSelect={() => go("corpus/context", { q })} className={item}>
              Read “{q}” in context
            </Command.Item>
          </Command.Group>
        )}
        {groups.map((kind) => (
          <Command.Group
            key={kind}
            heading={<div className="px-2.5 pt-2 pb-1 text-[11.5px] font-bold text-ink2">{KINDS[kind]}</div>}
          >
            {hits
              .filter((hit) => hit.kind === kind)
              .map((hit, at) => (
                <Command.Item
                  key={`${kind}${hit.id}${at}`}
                  value={`${kind}${hit.id}-${at}`}
                  onSelect={() => take(hit)}
                  className={item}
                >
                  <span className="truncate">{hit.label}</span>
                  <span className="ml-auto shrink-0 text-ink2">{hit.detail}</span>
                </Command.Item>
              ))}
          </Command.Group>
        ))}
        <Command.Group
          heading={<div className="px-2.5 pt-2 pb-1 text-[11.5px] font-bold text-ink2">Views</div>}
        >
          {PLACES.filter((place) => place.label.toLowerCase().includes(q.toLowerCase())).map((place) => (
            <Command.Item
              key={place.path}
              value={place.path}
              onSelect={() => go(place.path)}
              className={item}
            >
              {place.label}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  );
}
