import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { api, data, ProblemError, type Schema, saveFile } from "../../api/client";
import { ofTerms } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { plural, three, whole } from "../../lib/numbers";
import { term } from "../../lib/terms";
import { Button, Empty, Failure, Menu, Popover, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { useEvidence } from "../../shell/evidence";
import { Fault } from "../dictionary/fault";
import { type Asked, queryOf } from "./what";

type Request = Schema["CollocatesRequest"];
type By = NonNullable<Request["by"]>;
const HEADS: readonly { by: By; label: string; title: string }[] = [
  { by: "together", label: "Together", title: "How often the word stands within reach of a hit" },
  { by: "g2", label: "G2", title: "Log-likelihood: how surprising that is; grows with frequency" },
  { by: "log_dice", label: "logDice", title: "How typical, 14 at most; does not grow with the corpus" },
  { by: "pmi", label: "PMI", title: "Log2 of observed over expected; overrates rare words" },
];

/** The words in the company of the hits, with three measures and where they stand. */
export function Company({ asked, name }: { asked: Asked; name: string }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { show } = useEvidence();
  const { fail } = useToast();
  const revision = useSummary().data?.revision;
  const [window, setWindow] = useAddress("reach", "5");
  const [least, setLeast] = useAddress("together", "3");
  const [by, setBy] = useAddress("measure", "g2");
  const [stop, setStop] = useAddress("stop", "on");
  const request = {
    ...asked,
    order: "date",
    form: "context",
    start: 0,
    most: 60,
    window: Number(window),
    least: Number(least),
    by: by as By,
    stop: stop === "on",
  } as Request;
  const found = useInfiniteQuery({
    queryKey: keys.of(project_id, "company", revision, request),
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/collocates", {
          params: { path: { project_id } },
          body: { ...request, start: pageParam },
          signal,
        }),
      ),
    getNextPageParam: (page, pages) => {
      const seen = pages.reduce((sum, one) => sum + one.rows.length, 0);
      return seen < page.total ? seen : undefined;
    },
    placeholderData: keepPreviousData,
    retry: false,
  });
  const save = (form: "csv" | "xlsx") =>
    void saveFile(`/api/v1/projects/${project_id}/collocates/export?form=${form}`, request).catch(fail);
  if (found.error)
    return (
      <div className="px-4">
        {found.error instanceof ProblemError && found.error.position !== null ? (
          <Fault error={found.error} term={queryOf(asked)} />
        ) : (
          <Failure error={found.error} />
        )}
      </div>
    );
  if (found.isPending) return <Waiting what="Looking around the hits" />;
  const first = found.data.pages[0]!;
  const rows = found.data.pages.flatMap((page) => page.rows);
  const open = (word: Schema["CollocateRow"]) =>
    show({
      title: word.near ? `“${name}” within ${window} words of “${word.word}”` : `“${word.word}”`,
      comparison: ofTerms([term(word.near ?? word.term)], scope),
    });
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-3 px-4 pb-2">
        <span>
          <b>{plural(first.hits, "hit")}</b>, {plural(first.tokens, "word")} beside them
        </span>
        <label className="flex items-center gap-1.5 text-ink2">
          within{" "}
          <Select
            aria-label="Words to each side"
            value={window}
            choices={["1", "2", "3", "4", "5", "7", "10"].map((n) => ({ value: n, label: n }))}
            onChange={setWindow}
            className="!w-[54px]"
          />{" "}
          words
        </label>
        <label className="flex items-center gap-1.5 text-ink2">
          at least{" "}
          <Select
            aria-label="Times together, at least"
            value={least}
            choices={["1", "2", "3", "5", "10", "20"].map((n) => ({ value: n, label: n }))}
            onChange={setLeast}
            className="!w-[54px]"
          />{" "}
          times
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={stop === "on"}
            onChange={(event) => setStop(event.target.checked ? "on" : "off")}
          />{" "}
          Stop list
        </label>
        <span className="ml-auto flex items-center gap-2">
          <Popover width={380} trigger={<Button look="ghost">How this was counted</Button>}>
            {first.method.map((part) => (
              <p key={part.heading} className="mb-2">
                <b>{part.heading}.</b> {part.words} <i className="text-ink2">{part.source}</i>
              </p>
            ))}
          </Popover>
          <Menu
            trigger={<Button>Export ▾</Button>}
            items={[
              { label: "Numbers as .csv", onSelect: () => save("csv") },
              { label: "Numbers as .xlsx", onSelect: () => save("xlsx") },
            ]}
          />
        </span>
      </div>
      {!rows.length ? (
        <Empty title="No collocates">
          No word occurs near the hits often enough. Lower the number of times, or widen the reach.
        </Empty>
      ) : (
        <div className="mx-4 mb-3 min-h-0 flex-1 overflow-auto rounded-md border border-line bg-sheet">
          <table className="w-full" aria-label="Collocates">
            <thead className="sticky top-0 bg-sheet text-ink2">
              <tr>
                <th className="border-b border-line2 px-2.5 py-1.5 text-left font-semibold">Word</th>
                {HEADS.map((one) => (
                  <th
                    key={one.by}
                    aria-sort={by === one.by ? "descending" : "none"}
                    className="border-b border-line2 px-2.5 py-1.5 text-right"
                  >
                    <button
                      type="button"
                      title={one.title}
                      onClick={() => setBy(one.by)}
                      className="font-semibold whitespace-nowrap hover:text-ink"
                    >
                      {one.label}
                      {by === one.by ? " ↓" : ""}
                    </button>
                  </th>
                ))}
                <th className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold whitespace-nowrap">
                  In scope
                </th>
                <th className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold">Left</th>
                <th className="border-b border-line2 px-2.5 py-1.5 text-center font-semibold whitespace-nowrap">
                  Position
                </th>
                <th className="border-b border-line2 px-2.5 py-1.5 text-left font-semibold">Right</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.word} className="h-[28px] border-b border-line last:border-0 hover:bg-wash">
                  <td className="px-2.5">
                    <button type="button" onClick={() => open(row)} className="font-semibold hover:underline">
                      {row.word}
                    </button>
                  </td>
                  <td className="px-2.5 text-right">{whole(row.together)}</td>
                  <td className="px-2.5 text-right">{three(row.g2)}</td>
                  <td className="px-2.5 text-right">{three(row.log_dice)}</td>
                  <td className="px-2.5 text-right">{three(row.pmi)}</td>
                  <td className="px-2.5 text-right text-ink2">{whole(row.total)}</td>
                  <td className="px-2.5 text-right">{whole(row.left)}</td>
                  <td className="px-2.5 text-center">
                    <Places counts={row.by_position} />
                  </td>
                  <td className="px-2.5">{whole(row.right)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {found.hasNextPage && (
            <div className="p-2.5 text-center">
              <Button disabled={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
                Show more
              </Button>
            </div>
          )}
        </div>
      )}
    </div>
  );
}

/** Small columns for the places left and right of the hit. */
function Places({ counts }: { counts: readonly number[] }) {
  const top = Math.max(1, ...counts);
  const half = counts.length / 2;
  const said = counts
    .map((count, at) => `${at < half ? at - half : `+${at - half + 1}`}: ${count}`)
    .join(", ");
  return (
    <svg
      width={counts.length * 9 + 10}
      height={18}
      role="img"
      aria-label={said}
      className="inline-block align-middle"
    >
      <title>{said}</title>
      {counts.map((count, at) => (
        <rect
          key={at}
          x={at * 9 + (at >= half ? 10 : 0)}
          width={7}
          y={17 - (count / top) * 16}
          height={Math.max(1, (count / top) * 16)}
          fill={count ? "var(--c1)" : "var(--line2)"}
        />
      ))}
      <rect
        x={half * 9 + 2}
        width={4}
        y={12}
        height={5}
        fill="var(--straw)"
        stroke="var(--line2)"
        strokeWidth={0.5}
      />
    </svg>
  );
}
