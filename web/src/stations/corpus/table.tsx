import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useDeferredValue, useEffect, useRef, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, type Condition, data, type Schema } from "../../api/client";
import { date, percent, plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Input, Menu, Waiting } from "../../parts/controls";
import { About } from "../../shell/about";
import { useAddress, useFields, useProjectId, useScope, useSummary } from "../../shell/project";

type Line = Schema["TextLine"];
type FieldInfo = Schema["FieldInfo"];
const ROW = 29;
const PAGE = 100;
const AHEAD = 12;
/** Where the table was left, by project; survives going elsewhere and back. */
const places = new Map<number, number>();

export function TextTable() {
  const project = useProjectId();
  const { scope } = useScope();
  const summary = useSummary();
  const fields = useFields();
  const { search } = useLocation();
  const [kept, keep] = useAddress("find", "");
  const [find, setFind] = useState(kept);
  // the address follows a little later: it must never hold up or drop what is being typed
  useEffect(() => {
    const timer = setTimeout(() => find !== kept && keep(find), 300);
    return () => clearTimeout(timer);
  }, [find, kept, keep]);
  const [sort, setSort] = useAddress("sort", "date");
  const [down, setDown] = useAddress("down", "");
  const columns = useColumns(project, fields);
  const sortBy = (key: string) => {
    if (key === sort) setDown(down ? "" : "1");
    else setSort(key);
  };
  if (summary.data && summary.data.texts === 0) {
    return (
      <Empty title="No texts yet">
        <p className="mb-4">The corpus holds the texts of the project: articles, posts, answers, interviews. Bring in a table (.csv, .tsv) or plain text files, loose or in a folder or .zip.</p>
        <Link to={`/projects/${project}/corpus/import${search}`}><Button look="main">Import texts</Button></Link>
      </Empty>
    );
  }
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 pt-3 pb-2">
        <h1 className="text-[19px] font-[650]">Corpus</h1>
        <Profile fields={fields} />
        <div className="ml-auto flex items-center gap-2">
          <Link to={`/projects/${project}/corpus/deliveries${search}`} className="px-1 font-semibold text-bottle hover:underline">Deliveries</Link>
          {summary.data?.role !== "reader" && <Link to={`/projects/${project}/corpus/import${search}`}><Button look="main">Import texts</Button></Link>}
        </div>
      </div>
      <div className="flex items-center gap-2 px-4 pb-2">
        <Input type="search" aria-label="Find in titles" placeholder="Find in titles" value={find} onChange={(event) => setFind(event.target.value)} className="max-w-[280px]" />
        <Menu
          trigger={<Button>Columns ▾</Button>}
          items={columns.all.map((field) => ({ label: `${columns.shown.includes(field.key) ? "✓" : "\u2007\u2007"} ${field.name}`, onSelect: () => columns.toggle(field.key) }))}
        />
        <span className="ml-auto"><About topic="corpus">Each row is a text of the scope. Words are tokens with a letter or a digit. Click a heading to sort; texts without a value stand last.</About></span>
      </div>
      <Rows key={project} scope={scope} find={find} sort={sort} descending={down === "1"} onSort={sortBy} columns={columns.all.filter((field) => columns.shown.includes(field.key))} />
    </div>
  );
}

/** Which variables are shown, kept per person and project in this browser. */
function useColumns(project: number, fields: readonly FieldInfo[]) {
  const key = `winnower-columns-${project}`;
  const all = fields.filter((field) => field.key.startsWith("v"));
  const [kept, setKept] = useState<string[] | null>(() => JSON.parse(localStorage.getItem(key) ?? "null") as string[] | null);
  const shown = kept ?? all.slice(0, 3).map((field) => field.key);
  const toggle = (field: string) => {
    const next = shown.includes(field) ? shown.filter((one) => one !== field) : [...shown, field];
    localStorage.setItem(key, JSON.stringify(next));
    setKept(next);
  };
  return { all, shown, toggle };
}

/** Texts, period, sources, and what is missing: numbers that narrow the scope to what they count. */
function Profile({ fields }: { fields: readonly FieldInfo[] }) {
  const { scope, setScope } = useScope();
  const summary = useSummary().data;
  const source = fields.find((field) => field.key === "source");
  const day = fields.find((field) => field.key === "date");
  if (!summary || !source || !day) return null;
  const narrow = (field: string) => setScope([...scope, { kind: "values", field, values: [null], exclude: false } as Condition]);
  const part = "text-ink2";
  return (
    <div className="flex flex-wrap gap-x-4 text-ink2">
      <span className={part}>{plural(source.different, "source")}</span>
      {day.low && <span>{date(day.low)} to {date(day.high)}</span>}
      {day.missing > 0 && <button type="button" className="text-rust hover:underline" onClick={() => narrow("date")}>{percent(day.missing / summary.texts)} without date ({whole(day.missing)})</button>}
      {source.missing > 0 && <button type="button" className="text-rust hover:underline" onClick={() => narrow("source")}>{percent(source.missing / summary.texts)} without source ({whole(source.missing)})</button>}
    </div>
  );
}

interface RowsProps {
  scope: readonly Condition[];
  find: string;
  sort: string;
  descending: boolean;
  onSort: (key: string) => void;
  columns: readonly FieldInfo[];
}

function usePages(props: RowsProps, pages: readonly number[]) {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const find = useDeferredValue(props.find);
  const asked = (start: number) => ({
    queryKey: ["project", project_id, "page", revision, props.scope, find, props.sort, props.descending, start],
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/page", {
          params: { path: { project_id } },
          body: { scope: [...props.scope], find, sort: props.sort, descending: props.descending, start, most: PAGE },
        }),
      ),
    staleTime: Infinity,
    enabled: revision !== undefined,
  });
  const first = useQuery({ ...asked(0), placeholderData: keepPreviousData });
  const others = useQueries({ queries: pages.filter((page) => page > 0).map((page) => asked(page * PAGE)) });
  const lines = new Map<number, Line>();
  for (const page of [first.data, ...others.map((one) => one.data)]) page?.rows.forEach((row, at) => lines.set(page.start + at, row));
  return { lines, total: first.data?.total ?? 0, error: first.error, pending: first.isPending };
}

function Rows(props: RowsProps) {
  const project = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const holder = useRef<HTMLDivElement>(null);
  const [pages, setPages] = useState<readonly number[]>([0]);
  const [focus, setFocus] = useState(0);
  const { lines, total, error, pending } = usePages(props, pages);
  const rows = useVirtualizer({ count: total, getScrollElement: () => holder.current, estimateSize: () => ROW, overscan: AHEAD });
  const shown = rows.getVirtualItems();
  const needed = [...new Set(shown.map((row) => Math.floor(row.index / PAGE)))].join(",");
  useEffect(() => setPages(needed ? needed.split(",").map(Number) : [0]), [needed]);
  const ready = total > 0;
  useEffect(() => {
    if (ready) rows.scrollToOffset(places.get(project) ?? 0);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, project]);
  const grid = { gridTemplateColumns: `minmax(220px, 3fr) minmax(110px, 1fr) 92px 74px ${props.columns.map(() => "minmax(90px, 1fr)").join(" ")}` };
  const onKey = (event: React.KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 20, PageUp: -20 }[event.key];
    if (step) {
      event.preventDefault();
      const next = Math.max(0, Math.min(total - 1, focus + step));
      setFocus(next);
      rows.scrollToIndex(next);
    } else if (event.key === "Enter") {
      const line = lines.get(focus);
      if (line) navigate(`/projects/${project}/corpus/${line.id}${search}`);
    }
  };
  const heads = [
    { key: "title", name: "Title", right: false },
    { key: "source", name: "Source", right: false },
    { key: "date", name: "Date", right: true },
    { key: "words", name: "Words", right: true },
    ...props.columns.map((field) => ({ key: field.key, name: field.name, right: field.kind === "number" })),
  ];
  return (
    <div className="mx-4 mb-4 flex min-h-0 flex-1 flex-col overflow-hidden rounded-md border border-line bg-sheet" role="table" aria-rowcount={total} aria-label="Texts">
      <div
        ref={holder}
        tabIndex={0}
        aria-label="Rows; arrow keys move, Enter opens"
        onKeyDown={onKey}
        onScroll={(event) => places.set(project, event.currentTarget.scrollTop)}
        className="min-h-0 flex-1 overflow-y-scroll"
      >
      <div role="row" className="sticky top-0 z-10 grid border-b border-line2 bg-sheet" style={grid}>
        {heads.map((head) => (
          <div key={head.key} role="columnheader" aria-sort={props.sort === head.key ? (props.descending ? "descending" : "ascending") : "none"} className={head.right ? "text-right" : ""}>
            <button type="button" onClick={() => props.onSort(head.key)} className="w-full truncate px-2.5 py-1.5 font-semibold text-ink2 hover:text-ink" style={{ textAlign: head.right ? "right" : "left" }}>
              {head.name}
              {props.sort === head.key ? (props.descending ? " ↓" : " ↑") : ""}
            </button>
          </div>
        ))}
      </div>
        {pending && <Waiting what="Reading the table" />}
        {error && <div className="p-3"><Failure error={error} /></div>}
        {!pending && !error && total === 0 && <Empty title="No text fits">Take away a condition of the scope, or change what is looked for in the titles.</Empty>}
        <div role="rowgroup" style={{ height: rows.getTotalSize(), position: "relative" }}>
          {shown.map((row) => {
            const line = lines.get(row.index);
            return (
              <div
                key={row.key}
                role="row"
                aria-rowindex={row.index + 1}
                onClick={() => line && navigate(`/projects/${project}/corpus/${line.id}${search}`)}
                className={`absolute left-0 grid w-full cursor-pointer items-center border-b border-line ${row.index === focus ? "bg-tint" : "hover:bg-wash"}`}
                style={{ ...grid, height: ROW, transform: `translateY(${row.start}px)` }}
              >
                {line ? <Cells line={line} columns={props.columns} /> : <div className="px-2.5 text-ink3">…</div>}
              </div>
            );
          })}
        </div>
      </div>
      <div className="shrink-0 border-t border-line px-2.5 py-1 text-ink2" data-testid="table-total">{plural(total, "text")}</div>
    </div>
  );
}

function Cells({ line, columns }: { line: Line; columns: readonly FieldInfo[] }) {
  const cell = "truncate px-2.5";
  return (
    <>
      <div role="cell" className={`${cell} font-medium`}>{line.title}</div>
      <div role="cell" className={cell}>{line.source ?? <None />}</div>
      <div role="cell" className={`${cell} text-right`}>{line.date ? date(line.date) : <None />}</div>
      <div role="cell" className={`${cell} text-right`}>{whole(line.words)}</div>
      {columns.map((field) => (
        <div role="cell" key={field.key} className={`${cell} ${field.kind === "number" ? "text-right" : ""}`}>
          <Value value={line.values[field.key] ?? null} kind={field.kind} />
        </div>
      ))}
    </>
  );
}

const None = () => <span className="text-ink3">–</span>;

export function Value({ value, kind }: { value: string | number | string[] | null; kind?: string }) {
  if (value === null || (Array.isArray(value) && !value.length)) return <None />;
  if (Array.isArray(value)) return <>{value.join("; ")}</>;
  if (typeof value === "number") return <>{value.toLocaleString("en-GB")}</>;
  return <>{kind === "date" ? date(value) : value}</>;
}
