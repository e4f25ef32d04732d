import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { keys } from "../../data/keys";
import { useAddress, useProjectId, useSummary } from "../../data/project";
import type { Run } from "../../data/runs";
import { percent, plural, three, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Segments, Select, Waiting } from "../../parts/controls";
import { SidePanel } from "../../parts/side";
import { Origin } from "./runpreview";
import { Pages } from "./runresults";
import { RunWords } from "./runwords";

type Row = Schema["RunBesideRow"];
type Unit = NonNullable<Schema["RunBesideRequest"]["unit"]>;
type Which = Schema["RunBesideUnits"]["which"];
const PAGE = 30;
const UNITS: { value: Unit; label: string }[] = [
  { value: "sentence", label: "sentences" },
  { value: "paragraph", label: "paragraphs" },
  { value: "text", label: "texts" },
];
const HEADS = [
  "both",
  "only the run",
  "only by hand",
  "neither",
  "precision",
  "recall",
  "F1",
  "kappa",
  "alpha",
];

/** A run beside what people coded in the same texts: how often both agree, and where they do not. */
export function RunBeside({ run }: { run: Run }) {
  const project_id = useProjectId();
  const coding = useSummary().data?.coding;
  const [unit, setUnit] = useState<Unit>("sentence");
  const [coder, setCoder] = useState("");
  const [open, setOpen] = useState<{ code: number; label: string; which: Which } | null>(null);
  const [held, setHeld] = useAddress("held", "");
  const { byId } = useCodebook();
  // an address can name a deleted code
  const matched = matchedIn(held).filter((one) => byId.has(one.hand_id));
  const asked = { unit, coders: coder ? [Number(coder)] : [], matched };
  const hold = (code_id: number, hand_id: number) => {
    const others = matched.filter((one) => one.code_id !== code_id);
    setHeld(
      [...others, ...(hand_id === code_id ? [] : [{ code_id, hand_id }])]
        .map((one) => `${one.code_id}:${one.hand_id}`)
        .join(","),
    );
  };
  const found = useQuery({
    queryKey: keys.of(project_id, "runs", run.id, "beside", run.revision, coding, asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/{run_id}/beside", {
          params: { path: { project_id, run_id: run.id } },
          body: asked,
        }),
      ),
    placeholderData: (before) => before,
  });
  const told = found.data;
  return (
    <div className="flex min-h-0 flex-1">
      <div className="min-h-0 min-w-0 flex-1 overflow-auto bg-sheet px-4 py-2.5">
        <div className="mb-2 flex flex-wrap items-center gap-2">
          <Segments label="Counted in" value={unit} onChange={(to) => setUnit(to as Unit)} choices={UNITS} />
          <span>coded by</span>
          <Select
            aria-label="Whose coding"
            value={coder}
            choices={[
              { value: "", label: "anybody" },
              ...(told?.coders ?? []).map((one) => ({
                value: String(one.id),
                label: one.me ? "you" : one.name,
              })),
            ]}
            onChange={setCoder}
            className="w-auto!"
          />
          {told && (
            <span className="text-ink2">
              {plural(told.units, UNITS.find((one) => one.value === unit)!.value)} of the{" "}
              {plural(told.texts, "text")} of the run’s scope in which something is coded by hand
            </span>
          )}
        </div>
        {found.error && <Failure error={found.error} />}
        {found.isPending && <Waiting what="Comparing" />}
        {told && told.units === 0 && (
          <Empty title="Nothing is coded by hand here">
            Code some texts of the run’s scope by hand, or draw a sample to code; then it shows here how far
            the run agrees.
          </Empty>
        )}
        {told && told.units > 0 && (
          <>
            <Table
              title="By code"
              rows={told.codes}
              onHold={hold}
              onOpen={(row, which) => setOpen({ code: row.code_id!, label: row.label, which })}
            />
            <Table title="By source, all codes together" rows={told.sources} />
            <p className="mt-2 text-[11.5px] text-ink2">
              Coding by hand is taken as right: what people left without the code counts as not having it, so
              a run looks worse than it is where texts are coded only in part. Intervals are drawn anew over
              texts, since units of one text are alike; with units in fewer than five texts there are none.
            </p>
          </>
        )}
      </div>
      {open && (
        <BesideUnits
          key={`${open.code} ${open.which} ${unit} ${coder} ${held}`}
          run={run}
          asked={asked}
          open={open}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}

/** Codes of the run that are held against another code of the coding by hand, as the address has them. */
function matchedIn(held: string): { code_id: number; hand_id: number }[] {
  return held
    .split(",")
    .map((pair) => pair.split(":").map(Number))
    .flatMap(([code_id, hand_id]) => (code_id && hand_id ? [{ code_id, hand_id }] : []));
}

function Table({
  title,
  rows,
  onHold,
  onOpen,
}: {
  title: string;
  rows: readonly Row[];
  onHold?: (code: number, hand: number) => void;
  onOpen?: (row: Row, which: Which) => void;
}) {
  return (
    <table className="mb-4 w-full border-collapse" data-testid="beside">
      <thead>
        <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
          <th className="py-1 text-left font-normal">{title}</th>
          {HEADS.map((head) => (
            <th key={head} className="py-1 pl-3 font-normal">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.label} className="border-b border-line text-right">
            <th scope="row" className="max-w-[200px] py-1 text-left font-semibold">
              <span className="block truncate" title={row.label}>
                {row.label}
              </span>
              {onHold && row.code_id !== null && (
                <HeldAgainst row={row} onChange={(to) => onHold(row.code_id!, to)} />
              )}
            </th>
            <Count count={row.both} onOpen={onOpen && (() => onOpen(row, "both"))} />
            <Count count={row.only_run} onOpen={onOpen && (() => onOpen(row, "only the run"))} />
            <Count count={row.only_hand} onOpen={onOpen && (() => onOpen(row, "only by hand"))} />
            <td className="pl-3 text-ink2">{whole(row.neither)}</td>
            {[row.precision, row.recall, row.f1].map((one, at) => (
              <td
                key={at}
                className="pl-3"
                title={one.low === null ? undefined : `${percent(one.low)} to ${percent(one.high)}`}
              >
                {one.value === null ? "–" : percent(one.value)}
                {one.value !== null && (
                  <span className="block text-[11px] text-ink2">
                    {one.low === null ? "too few texts" : `${percent(one.low)}, ${percent(one.high)}`}
                  </span>
                )}
              </td>
            ))}
            <td className="pl-3">{row.kappa === null ? "–" : three(row.kappa)}</td>
            <td className="pl-3">{row.alpha === null ? "–" : three(row.alpha)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Which code of the coding by hand a code of the run is held against: the same one, until another is chosen. */
function HeldAgainst({ row, onChange }: { row: Row; onChange: (code: number) => void }) {
  const { codes } = useCodebook();
  return (
    <Select
      aria-label={`By hand, ${row.label} is`}
      value={String(row.hand_id)}
      choices={codes.map((one) => ({
        value: String(one.id),
        label: one.id === row.code_id ? "the same code by hand" : `by hand: ${one.name}`,
      }))}
      onChange={(to) => onChange(Number(to))}
      className="mt-0.5 h-[24px]! w-full! py-0! text-[11.5px]! font-normal"
    />
  );
}

function Count({ count, onOpen }: { count: number; onOpen?: (() => void) | undefined }) {
  return (
    <td className="pl-3">
      {onOpen && count > 0 ? (
        <Button look="ghost" className="px-0! font-normal!" onClick={onOpen}>
          {whole(count)}
        </Button>
      ) : (
        whole(count)
      )}
    </td>
  );
}

/** The units behind a number. */
function BesideUnits({
  run,
  asked,
  open,
  onClose,
}: {
  run: Run;
  asked: Schema["RunBesideRequest"];
  open: { code: number; label: string; which: Which };
  onClose: () => void;
}) {
  const project_id = useProjectId();
  const [start, setStart] = useState(0);
  const found = useQuery({
    queryKey: keys.of(project_id, "runs", run.id, "beside units", run.revision, asked, open, start),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/{run_id}/beside/units", {
          params: { path: { project_id, run_id: run.id } },
          body: { ...asked, code_id: open.code, which: open.which, start, most: PAGE },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <SidePanel
      label="Behind the number"
      title={
        open.which === "both"
          ? "The run and people"
          : open.which === "only the run"
            ? "Only the run"
            : "Only by hand"
      }
      close="Close"
      onClose={onClose}
      wide
      head={<div className="text-ink2">{open.label}</div>}
    >
      <div className="min-h-0 flex-1 overflow-auto px-3.5">
        {found.error && <Failure error={found.error} />}
        {found.isPending && <Waiting what="Opening the passages" />}
        <ul>
          {found.data?.items.map((one, at) => (
            <li key={at} className="border-b border-line py-2" data-testid="beside-unit">
              <RunWords one={one} />
              <Origin one={one} />
            </li>
          ))}
        </ul>
        {found.data && <Pages start={start} most={PAGE} total={found.data.total} onStart={setStart} />}
      </div>
    </SidePanel>
  );
}
