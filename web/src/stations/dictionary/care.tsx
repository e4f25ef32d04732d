import type { ReactNode } from "react";
import { api, data, type Schema } from "../../api/client";
import { ofTerms } from "../../data/comparison";
import { useChange, useProjectId, useScope } from "../../data/project";
import { percent, plural, whole } from "../../lib/numbers";
import { termOf } from "../../lib/terms";
import { Button, Empty, Swatch, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { useEvidence } from "../../shell/evidence";

type Tree = Schema["DictionaryTree"];

/** Everything in a dictionary that wants a look, with what to do about it. */
export function CareView({
  tree,
  counts,
  care,
  writes,
  onCategory,
}: {
  tree: Tree;
  counts: Schema["DictionaryCounts"] | undefined;
  care: Schema["CarePublic"] | undefined;
  writes: boolean;
  onCategory: (id: number) => void;
}) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const start = useChange(
    () => data(api.POST("/api/v1/projects/{project_id}/company", { params: { path: { project_id } } })),
    () => tell("Finding words that are used in similar contexts."),
  );
  if (!counts || !care) return <Waiting what="Looking over the dictionary" />;
  const homes = new Map(
    tree.categories.flatMap((category) =>
      category.terms.map((term) => [term.id, { term, category }] as const),
    ),
  );
  const byName = new Map(tree.categories.map((category) => [category.id, category]));
  const some = (ids: readonly number[]) => ids.flatMap((id) => homes.get(id) ?? []);
  const lines = (ones: ReturnType<typeof some>) =>
    ones.map((one) => (
      <TermLine key={one.term.id} {...one} tree={tree} writes={writes} onCategory={onCategory} />
    ));
  type Home = ReturnType<typeof some>[number];
  const told = (id: number, extra: (home: Home) => ReactNode) =>
    some([id]).map((home) => (
      <TermLine key={id} {...home} tree={tree} writes={false} onCategory={onCategory} extra={extra(home)} />
    ));
  const nothing =
    !counts.empty_terms.length &&
    !counts.double_terms.length &&
    !care.overlaps.length &&
    !care.idle.length &&
    !care.carrying.length &&
    !care.mixed.length;
  const named = (id: number) => {
    const category = byName.get(id);
    return category ? (
      <button type="button" onClick={() => onCategory(id)} className="font-semibold hover:underline">
        <Swatch colour={category.colour} />
        {category.name}
      </button>
    ) : null;
  };
  return (
    <div className="max-w-[860px]">
      <h1 className="text-[19px] font-[650]">Warnings for {tree.name}</h1>
      <p className="mt-0.5 mb-3 text-ink2">
        Nothing here is wrong by itself; each point is worth a look before numbers are published.
      </p>
      {nothing && (
        <Empty title="All in order">
          Every term matches, none stands twice, no categories overlap, and no term carries a category alone.
        </Empty>
      )}
      <Part
        title="Match nothing in the corpus"
        count={counts.empty_terms.length}
        hint="Misspelled, or not a word of these texts. They do no harm; without them the list is easier to read."
      >
        {lines(some(counts.empty_terms))}
      </Part>
      <Part
        title="In more than one category"
        count={counts.double_terms.length}
        hint="Their hits count in each of the categories."
      >
        {lines(some(counts.double_terms).sort((a, b) => a.term.source.localeCompare(b.term.source)))}
      </Part>
      <Part
        title="Categories that share words"
        count={care.overlaps.length}
        hint="Words of the texts that both count. The shares of the two then overlap."
      >
        {care.overlaps.map((pair) => (
          <li
            key={`${pair.first}.${pair.second}`}
            className="flex items-center gap-2 border-b border-line px-3 py-1 last:border-0"
          >
            {named(pair.first)} <span className="text-ink2">and</span> {named(pair.second)}{" "}
            <span className="ml-auto">{plural(pair.words, "word")}</span>
          </li>
        ))}
      </Part>
      <Part
        title="Add nothing"
        count={care.idle.length}
        hint="Every word they catch is caught by other terms of the same category, so leaving one of them out changes no number."
      >
        {lines(some(care.idle))}
      </Part>
      <Part
        title="Carry most of their category"
        count={care.carrying.length}
        hint="More than half of the category’s hits are theirs: findings about the category are mostly about this term."
      >
        {care.carrying.flatMap((one) => told(one.term_id, () => percent(one.share)))}
      </Part>
      <Part
        title="May have two meanings"
        count={care.mixed.length}
        hint="Their hits occur in two different contexts. Read some of each before you trust the count; a sample to judge is drawn in the term’s category."
      >
        {care.mixed.flatMap((one) =>
          told(one.term_id, (home) =>
            one.words.map((words, at) => (
              <Company key={at} home={home} kind={at === 1 ? 1 : 0} words={words} hits={one.sizes[at] ?? 0} />
            )),
          ),
        )}
      </Part>
      {care.company !== "ready" && (
        <div className="mt-4 flex items-center gap-3 text-ink2">
          Whether a term has two meanings is judged by the words around it in this corpus.
          {care.company === "working" ? (
            <span role="status">It is being worked out…</span>
          ) : (
            writes && <Button onClick={() => start.mutate(undefined)}>Work it out</Button>
          )}
        </div>
      )}
    </div>
  );
}

function Part({
  title,
  count,
  hint,
  children,
}: {
  title: string;
  count: number;
  hint: string;
  children: ReactNode;
}) {
  if (!count) return null;
  return (
    <section aria-label={title} className="mb-4">
      <h2 className="font-bold">
        {title} <span className="font-normal text-ink2">{whole(count)}</span>
      </h2>
      <p className="mb-1.5 text-ink2">{hint}</p>
      <ul className="max-h-[300px] overflow-auto rounded-md border border-line bg-sheet">{children}</ul>
    </section>
  );
}

/** One kind of company a term keeps; a click reads the hits that were counted. */
function Company({
  home,
  kind,
  words,
  hits,
}: {
  home: { term: Schema["TermPublic"]; category: Schema["CategoryPublic"] };
  kind: 0 | 1;
  words: readonly string[];
  hits: number;
}) {
  const { scope } = useScope();
  const { show } = useEvidence();
  const { term, category } = home;
  const open = () =>
    show({
      title: `“${term.source}” with ${words.join(", ")}`,
      colour: category.colour,
      comparison: ofTerms([termOf(term)], scope),
      company: kind,
    });
  return (
    <button type="button" onClick={open} className="hover:underline">
      {whole(hits)} with {words.join(", ")}
    </button>
  );
}

function TermLine({
  term,
  category,
  tree,
  writes,
  onCategory,
  extra,
}: {
  term: Schema["TermPublic"];
  category: Schema["CategoryPublic"];
  tree: Tree;
  writes: boolean;
  onCategory: (id: number) => void;
  extra?: ReactNode;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { show } = useEvidence();
  const { tell } = useToast();
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/terms/{term_id}", {
          params: {
            path: { project_id, dictionary_id: tree.id, term_id: term.id },
            query: { revision: term.revision },
          },
        }),
      ),
    () => tell(`“${term.source}” deleted. Undo brings it back.`),
  );
  return (
    <li className="flex items-center gap-2 border-b border-line px-3 py-1 last:border-0">
      <button
        type="button"
        onClick={() =>
          show({
            title: `“${term.source}” in ${category.name}`,
            colour: category.colour,
            comparison: ofTerms([termOf(term)], scope),
          })
        }
        className="truncate font-semibold hover:underline"
      >
        {term.source}
      </button>
      <span className="shrink-0 text-ink2">
        in{" "}
        <button type="button" onClick={() => onCategory(category.id)} className="hover:underline">
          <Swatch colour={category.colour} className="!mr-1 ml-1" />
          {category.name}
        </button>
      </span>
      {extra && <span className="ml-auto flex flex-wrap justify-end gap-x-3 text-right">{extra}</span>}
      {writes && (
        <Button look="ghost" className="ml-auto" onClick={() => drop.mutate(undefined)}>
          Delete
        </Button>
      )}
    </li>
  );
}
