import { useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import {
  ARTICLES_AT_ONCE,
  type ArticleLine,
  type ArticlesAsked,
  useArticles,
  useTakeArticles,
} from "../../data/articles";
import { useAddress, useProjectId, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Input, Popover, Segments, Select, Waiting } from "../../parts/controls";
import { About } from "../../shell/about";
import { Article } from "./article";
import { CorpusHead } from "./head";

const COLUMNS = {
  authors: { label: "Authors", of: (one: ArticleLine) => one.authors.join("; ") },
  year: { label: "Year", of: (one: ArticleLine) => String(one.year) },
  kind: { label: "Kind", of: (one: ArticleLine) => one.kind },
  outlet: { label: "Outlet", of: (one: ArticleLine) => one.outlet },
  subjects: { label: "Subjects", of: (one: ArticleLine) => one.subjects.join("; ") },
  words: { label: "Abstract", of: (one: ArticleLine) => one.words },
  id: { label: "Number", of: (one: ArticleLine) => one.id },
} as const;
type Column = keyof typeof COLUMNS;
const USUAL: readonly Column[] = ["authors", "year", "kind", "outlet"];
const KEPT = "winnower.articles.columns";

/** Articles and studies of a search service: found, filtered, looked at, and taken into the corpus. */
export function Articles() {
  const project = useProjectId();
  const { search } = useLocation();
  const navigate = useNavigate();
  const writes = useSummary().data?.role !== "reader";
  const [words, setWords] = useAddress("find", "");
  const [typed, setTyped] = useState(words);
  // the browser's way back brings earlier words
  useEffect(() => {
    setTyped(words);
  }, [words]);
  const [kind, setKind] = useAddress("kind", "");
  const [outlet, setOutlet] = useAddress("outlet", "");
  const [first, setFirst] = useAddress("from", "");
  const [last, setLast] = useAddress("to", "");
  const [order, setOrder] = useAddress("order", "best");
  const [start, setStart] = useState(0);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [open, setOpen] = useState<string | null>(null);
  const [columns, setColumns] = useState<readonly Column[]>(kept);
  const asked: ArticlesAsked = {
    words,
    kinds: kind ? [kind] : [],
    outlets: outlet ? [outlet] : [],
    first: first ? Number(first) : null,
    last: last ? Number(last) : null,
    newest: order === "newest",
    start,
    most: ARTICLES_AT_ONCE,
  };
  const found = useArticles(asked);
  const take = useTakeArticles((upload) => {
    void navigate(`/projects/${project}/corpus/import${search}`, { state: { upload } });
  });
  // another question begins at its first page
  // biome-ignore lint/correctness/useExhaustiveDependencies: whatever of the question changes
  useEffect(() => {
    setStart(0);
  }, [words, kind, outlet, first, last, order]);
  const page = found.data;
  const choose = (id: string, on: boolean) =>
    setChosen((now) => {
      const next = new Set(now);
      if (on) next.add(id);
      else next.delete(id);
      return next;
    });
  const shown = page?.records ?? [];
  const open_ = shown.filter((one) => !one.there);
  const all = open_.length > 0 && open_.every((one) => chosen.has(one.id));
  const tallies = (of: readonly { name: string; records: number }[], any: string) => [
    { value: "", label: any },
    ...of.map((one) => ({ value: one.name, label: `${one.name} (${whole(one.records)})` })),
  ];
  const years = [
    { value: "", label: "any year" },
    ...(page?.years ?? []).map((year) => ({ value: String(year), label: String(year) })),
  ];
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="articles">
          A search service for articles and studies. The one that ships has made-up records; what is chosen
          goes through the import, with its reference.
        </About>
      </CorpusHead>
      <form
        className="flex flex-wrap items-center gap-2 border-b border-line bg-sheet px-4 py-2"
        role="search"
        onSubmit={(event) => {
          event.preventDefault();
          setWords(typed.trim());
        }}
      >
        <Input
          aria-label="Find articles"
          placeholder='Words in any form, "phrases" in quotes'
          value={typed}
          maxLength={500}
          onChange={(event) => setTyped(event.target.value)}
          className="w-[300px]!"
        />
        <Button type="submit" look="main">
          Find
        </Button>
        <Select
          aria-label="Kind"
          value={kind}
          choices={tallies(page?.kinds ?? [], "any kind")}
          onChange={setKind}
          className="w-auto!"
        />
        <Select
          aria-label="Outlet"
          value={outlet}
          choices={tallies(page?.outlets ?? [], "any outlet")}
          onChange={setOutlet}
          className="w-auto! max-w-[190px]"
        />
        <Select
          aria-label="From year"
          value={first}
          choices={years}
          onChange={setFirst}
          className="w-auto!"
        />
        to
        <Select aria-label="To year" value={last} choices={years} onChange={setLast} className="w-auto!" />
        <Segments
          label="Order"
          value={order}
          choices={[
            { value: "best", label: "Best" },
            { value: "newest", label: "Newest" },
          ]}
          onChange={setOrder}
        />
        <Columns columns={columns} onChange={setColumns} />
      </form>
      <div className="flex min-h-0 flex-1">
        {/** biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it */}
        <section className="min-w-0 flex-1 overflow-auto" aria-label="Records" tabIndex={0}>
          {found.isPending && <Waiting what="Asking the service" />}
          {found.error && <Failure error={found.error} />}
          {page && page.summary.length > 0 && (
            <div className="border-b border-line bg-sheet px-4 py-3" data-testid="first-five">
              <h2 className="mb-1 font-[650]">The first {page.summary.length} in short</h2>
              <ol className="max-w-[90ch]">
                {page.summary.map((one) => {
                  const record = shown[(one.passages[0] ?? 1) - 1];
                  return (
                    <li key={one.words} className="font-serif text-[14.5px] leading-[1.5]">
                      {one.words}{" "}
                      {record && (
                        <button
                          type="button"
                          className="font-sans text-[12px] font-semibold text-bottle hover:underline"
                          onClick={() => setOpen(record.id)}
                        >
                          {record.id}
                        </button>
                      )}
                    </li>
                  );
                })}
              </ol>
            </div>
          )}
          {page && !page.total && (
            <Empty title="Nothing is found">
              No record has all of these words. Leave one out, or widen the filters.
            </Empty>
          )}
          {page && page.total > 0 && (
            <table className="w-full border-collapse">
              <thead className="sticky top-0 bg-sheet">
                <tr className="text-left text-ink2">
                  <th className="w-8 border-b border-line2 py-1.5 pl-4">
                    <input
                      type="checkbox"
                      aria-label="Choose all on this page"
                      checked={all}
                      disabled={!open_.length}
                      onChange={(event) => {
                        for (const one of open_) choose(one.id, event.target.checked);
                      }}
                    />
                  </th>
                  <th className="border-b border-line2 py-1.5 pr-3 font-semibold">Title</th>
                  {columns.map((one) => (
                    <th key={one} className="border-b border-line2 py-1.5 pr-3 font-semibold">
                      {COLUMNS[one].label}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {shown.map((one) => (
                  <tr key={one.id} className={one.id === open ? "bg-tint" : "hover:bg-wash"}>
                    <td className="border-b border-line py-1.5 pl-4 align-top">
                      <input
                        type="checkbox"
                        aria-label={`Choose ${one.title}, ${one.id}`}
                        checked={chosen.has(one.id)}
                        disabled={one.there}
                        onChange={(event) => choose(one.id, event.target.checked)}
                      />
                    </td>
                    <td className="border-b border-line py-1.5 pr-3 align-top">
                      <button
                        type="button"
                        onClick={() => setOpen(one.id === open ? null : one.id)}
                        className="text-left font-semibold hover:underline"
                      >
                        {one.title}
                      </button>
                      {one.there && <span className="ml-2 text-[11.5px] text-ink2">in the corpus</span>}
                    </td>
                    {columns.map((column) => (
                      <td key={column} className="border-b border-line py-1.5 pr-3 align-top text-ink2">
                        {COLUMNS[column].of(one)}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
        {open !== null && <Article id={open} onClose={() => setOpen(null)} />}
      </div>
      {page && (
        <div className="flex items-center gap-3 border-t border-line2 bg-sheet px-4 py-2 text-ink2">
          <span data-testid="articles-found">{plural(page.total, "record")}</span>
          <span>{page.service}</span>
          <Button disabled={start === 0} onClick={() => setStart(Math.max(0, start - ARTICLES_AT_ONCE))}>
            Before
          </Button>
          <span>
            {whole(page.total ? page.start + 1 : 0)} to {whole(page.start + shown.length)}
          </span>
          <Button
            disabled={page.start + shown.length >= page.total}
            onClick={() => setStart(start + ARTICLES_AT_ONCE)}
          >
            After
          </Button>
          {writes && (
            <span className="ml-auto flex items-center gap-3">
              {chosen.size > 0 && (
                <Button look="ghost" onClick={() => setChosen(new Set())}>
                  Choose none
                </Button>
              )}
              <Button
                look="main"
                disabled={!chosen.size || take.isPending}
                onClick={() => take.mutate([...chosen])}
              >
                {chosen.size
                  ? `Take ${plural(chosen.size, "record")} into the corpus`
                  : "Choose records to take"}
              </Button>
            </span>
          )}
        </div>
      )}
    </div>
  );
}

function Columns({
  columns,
  onChange,
}: {
  columns: readonly Column[];
  onChange: (columns: readonly Column[]) => void;
}) {
  const all = Object.keys(COLUMNS) as Column[];
  return (
    <Popover width={200} trigger={<Button>Columns ▾</Button>}>
      {all.map((one) => (
        <label key={one} className="flex items-center gap-2 py-0.5">
          <input
            type="checkbox"
            checked={columns.includes(one)}
            onChange={(event) => {
              const next = all.filter((other) =>
                other === one ? event.target.checked : columns.includes(other),
              );
              localStorage.setItem(KEPT, JSON.stringify(next));
              onChange(next);
            }}
          />
          {COLUMNS[one].label}
        </label>
      ))}
    </Popover>
  );
}

function kept(): readonly Column[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "null");
    return Array.isArray(found) ? found.filter((one): one is Column => one in COLUMNS) : USUAL;
  } catch {
    return USUAL;
  }
}
