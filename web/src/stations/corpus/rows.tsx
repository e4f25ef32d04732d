import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type DragEvent, useDeferredValue, useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, type Condition, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId, useSummary } from "../../data/project";
import { DRAGGED_TEXTS } from "../../data/variables";
import { plural } from "../../lib/numbers";
import { asked, EVERYTHING, extend, isChosen, NOTHING, type Selection, toggle } from "../../lib/selection";
import { Empty, Failure, Waiting } from "../../parts/controls";
import { useProgress } from "../coding/progress";
import { BulkBar } from "./bulk";
import { Cell } from "./cell";

type Line = Schema["TextLine"];
type FieldInfo = Schema["FieldInfo"];
/** The field that tells how far coding is: passages of each text, and who is through with it. */
export const PROGRESS = "passages";
const ROW = 29;
const PAGE = 100;
const AHEAD = 12;
/** Where the table was left, by project; survives going elsewhere and back. */
const places = new Map<number, number>();

interface RowsProps {
  scope: readonly Condition[];
  find: string;
  sort: string;
  descending: boolean;
  onSort: (key: string) => void;
  columns: readonly FieldInfo[];
  editable: ReadonlySet<string>;
}

function usePages(props: RowsProps, pages: readonly number[]) {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const find = useDeferredValue(props.find);
  const asked = (start: number) => ({
    queryKey: keys.of(project_id, "page", revision, props.scope, find, props.sort, props.descending, start),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/page", {
          params: { path: { project_id } },
          body: {
            scope: [...props.scope],
            find,
            sort: props.sort,
            descending: props.descending,
            start,
            most: PAGE,
          },
        }),
      ),
    staleTime: Infinity,
    enabled: revision !== undefined,
  });
  const first = useQuery({ ...asked(0), placeholderData: keepPreviousData });
  const others = useQueries({ queries: pages.filter((page) => page > 0).map((page) => asked(page * PAGE)) });
  const lines = new Map<number, Line>();
  for (const page of [first.data, ...others.map((one) => one.data)])
    for (const [at, row] of page?.rows.entries() ?? []) lines.set((page?.start ?? 0) + at, row);
  return { lines, total: first.data?.total ?? 0, error: first.error, pending: first.isPending };
}

/** The table of texts, of any length: choose with Space or a click on the box, change a value with F2 or a double click. */
export function Rows(props: RowsProps) {
  const project = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const holder = useRef<HTMLDivElement>(null);
  const [pages, setPages] = useState<readonly number[]>([0]);
  const [focus, setFocus] = useState({ row: 0, column: 0 });
  const [selection, setSelection] = useState<Selection>(NOTHING);
  const [editing, setEditing] = useState(false);
  const last = useRef(0);
  const writes = useSummary().data?.role !== "reader";
  const { lines, total, error, pending } = usePages(props, pages);
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => holder.current,
    estimateSize: () => ROW,
    overscan: AHEAD,
  });
  const shown = rows.getVirtualItems();
  const needed = [...new Set(shown.map((row) => Math.floor(row.index / PAGE)))].join(",");
  useEffect(() => {
    setPages(needed ? needed.split(",").map(Number) : [0]);
  }, [needed]);
  // other texts than those chosen from are shown now
  const shownOf = JSON.stringify([props.scope, props.find]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: other texts are shown
  useEffect(() => {
    setSelection(NOTHING);
  }, [shownOf]);
  const progress = useProgress(
    props.columns.some((one) => one.key === PROGRESS) ? [...lines.values()].map((line) => line.id) : NO_TEXTS,
  );
  const ready = total > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the place is taken up once, when the rows are there
  useEffect(() => {
    if (ready) rows.scrollToOffset(places.get(project) ?? 0);
  }, [ready, project]);
  const heads = [
    { key: "title", name: "Title", right: false, kind: "text" },
    { key: "source", name: "Source", right: false, kind: "category" },
    { key: "date", name: "Date", right: true, kind: "date" },
    { key: "words", name: "Words", right: true, kind: "number" },
    ...props.columns.map((field) => ({
      key: field.key,
      name: field.name,
      right: field.kind === "number",
      kind: field.kind,
    })),
  ];
  const grid = {
    gridTemplateColumns: `30px minmax(200px, 3fr) minmax(104px, 1fr) 92px 64px ${props.columns.map(() => "minmax(86px, 1fr)").join(" ")}`,
  };
  const order = new Map([...lines].map(([at, line]) => [at, line.id]));
  const choose = (at: number, shift: boolean) => {
    const line = lines.get(at);
    if (!line) return;
    setSelection(
      shift ? extend(selection, order, last.current, at) : toggle(selection, line.id, [...order.values()]),
    );
    last.current = at;
  };
  const canEdit = (key: string) => writes && props.editable.has(key);
  const open = (id: number) => void navigate(`/projects/${project}/corpus/${id}${search}`);
  const onKey = (event: React.KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 20, PageUp: -20 }[event.key];
    const line = lines.get(focus.row);
    if (step) {
      event.preventDefault();
      const row = Math.max(0, Math.min(total - 1, focus.row + step));
      if (event.shiftKey && writes) setSelection(extend(selection, order, focus.row, row));
      setFocus({ ...focus, row });
      rows.scrollToIndex(row);
    } else if (event.key === "ArrowRight" || event.key === "ArrowLeft") {
      event.preventDefault();
      setFocus({
        ...focus,
        column: Math.max(0, Math.min(heads.length - 1, focus.column + (event.key === "ArrowRight" ? 1 : -1))),
      });
    } else if (event.key === " ") {
      event.preventDefault();
      choose(focus.row, event.shiftKey);
    } else if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      setSelection(EVERYTHING);
    } else if (event.key === "F2" && canEdit(heads[focus.column]!.key)) {
      event.preventDefault();
      setEditing(true);
    } else if (event.key === "Escape") setSelection(NOTHING);
    else if (event.key === "Enter" && line) open(line.id);
  };
  const onDrag = (event: DragEvent, line: Line) => {
    const dragged = isChosen(selection, line.id) ? selection : { all: false, ids: [line.id] };
    event.dataTransfer.setData(DRAGGED_TEXTS, JSON.stringify(asked(dragged, props.scope, props.find)));
    event.dataTransfer.effectAllowed = "copy";
  };
  const chosenAny = selection.all || selection.ids.length > 0;
  return (
    <>
      {chosenAny && writes && (
        <BulkBar
          selection={selection}
          total={total}
          scope={props.scope}
          find={props.find}
          lines={lines}
          onSelection={setSelection}
        />
      )}
      <div className="mx-4 mb-3 flex min-h-0 flex-1 flex-col overflow-hidden rounded-md border border-line bg-sheet">
        <div
          ref={holder}
          role="table"
          aria-rowcount={total}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
          tabIndex={0}
          aria-label="Texts; arrow keys move, Enter opens, Space chooses, F2 changes a value"
          onKeyDown={onKey}
          onScroll={(event) => places.set(project, event.currentTarget.scrollTop)}
          className="min-h-0 flex-1 overflow-auto"
        >
          <div style={{ minWidth: 560 + props.columns.length * 96 }}>
            {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
            <div role="row" className="sticky top-0 z-10 grid border-b border-line2 bg-sheet" style={grid}>
              {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
              <div role="columnheader" className="flex items-center justify-center">
                {writes && (
                  <input
                    type="checkbox"
                    aria-label="Choose all texts found"
                    checked={selection.all}
                    ref={(box) => {
                      if (box) box.indeterminate = !selection.all && selection.ids.length > 0;
                    }}
                    onChange={() =>
                      setSelection(selection.all || selection.ids.length ? NOTHING : EVERYTHING)
                    }
                  />
                )}
              </div>
              {heads.map((head) => (
                // biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys
                <div
                  key={head.key}
                  role="columnheader"
                  aria-sort={
                    props.sort === head.key ? (props.descending ? "descending" : "ascending") : "none"
                  }
                  className={head.right ? "text-right" : ""}
                >
                  <button
                    type="button"
                    onClick={() => props.onSort(head.key)}
                    className="w-full truncate px-2.5 py-1.5 font-semibold text-ink2 hover:text-ink"
                    style={{ textAlign: head.right ? "right" : "left" }}
                  >
                    {head.name}
                    {props.sort === head.key ? (props.descending ? " ↓" : " ↑") : ""}
                  </button>
                </div>
              ))}
            </div>
            {pending && <Waiting what="Reading the table" />}
            {error && (
              <div className="p-3">
                <Failure error={error} />
              </div>
            )}
            {!pending && !error && total === 0 && (
              <Empty title="No text fits">
                Take away a condition of the scope, or change the words that are looked for.
              </Empty>
            )}
            <div role="rowgroup" style={{ height: rows.getTotalSize(), position: "relative" }}>
              {shown.map((row) => {
                const line = lines.get(row.index);
                const here = row.index === focus.row;
                return (
                  // biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys
                  // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it
                  <div
                    key={row.key}
                    role="row"
                    aria-rowindex={row.index + 1}
                    aria-selected={line ? isChosen(selection, line.id) : false}
                    draggable={writes && line !== undefined}
                    onDragStart={(event) => line && onDrag(event, line)}
                    onClick={(event) => {
                      setFocus({ ...focus, row: row.index });
                      if (line && event.detail === 1 && !editing) open(line.id);
                    }}
                    className={`absolute left-0 grid w-full cursor-pointer items-center border-b border-line ${line && isChosen(selection, line.id) ? "bg-tint" : here ? "bg-wash" : "hover:bg-wash"}`}
                    style={{ ...grid, height: ROW, transform: `translateY(${row.start}px)` }}
                  >
                    {line ? (
                      <>
                        {/** biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it */}
                        <div
                          role="cell"
                          className="flex h-full items-center justify-center"
                          onClick={(event) => event.stopPropagation()}
                        >
                          {writes && (
                            <input
                              type="checkbox"
                              aria-label={`Choose ${line.title}`}
                              checked={isChosen(selection, line.id)}
                              onChange={(event) => {
                                setFocus({ ...focus, row: row.index });
                                choose(row.index, (event.nativeEvent as MouseEvent).shiftKey);
                              }}
                            />
                          )}
                        </div>
                        {heads.map((head, column) => (
                          <Cell
                            key={head.key}
                            line={line}
                            progress={head.key === PROGRESS ? progress.get(line.id) : undefined}
                            head={head}
                            focused={here && column === focus.column}
                            editable={canEdit(head.key)}
                            editing={editing && here && column === focus.column}
                            onFocus={() => setFocus({ row: row.index, column })}
                            onEdit={() => {
                              setFocus({ row: row.index, column });
                              setEditing(true);
                            }}
                            onDone={() => {
                              setEditing(false);
                              holder.current?.focus();
                            }}
                          />
                        ))}
                      </>
                    ) : (
                      <div className="px-2.5 text-ink3">…</div>
                    )}
                  </div>
                );
              })}
            </div>
          </div>
        </div>
        <div className="flex shrink-0 justify-between border-t border-line px-2.5 py-1 text-ink2">
          <span data-testid="table-total">{plural(total, "text")}</span>
          {writes && (
            <span className="text-ink3">
              Space chooses, Shift takes a stretch, F2 changes a value, rows can be dragged onto a set
            </span>
          )}
        </div>
      </div>
    </>
  );
}

const NO_TEXTS: readonly number[] = [];
