import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema, saveBlob, saveFile } from "../../api/client";
import {
  Button,
  Empty,
  Failure,
  Field,
  Menu,
  Popover,
  Segments,
  Select,
  Waiting,
} from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { useAddress, useFields, useProjectId, useScope, useSummary } from "../../shell/project";
import { Sides } from "../dictionary/sides";
import { DotPlot } from "./dots";
import { NumberTable } from "./numbertable";
import { picturePng, pictureSvg } from "./picture";
import { TrendPlot } from "./trend";

export type Comparison = Schema["ComparisonPublic"];
type Measure = NonNullable<Schema["CompareRequest"]["measure"]>;

const MEASURES: readonly { value: Measure; label: string }[] = [
  { value: "rate", label: "Rate per 1,000 words" },
  { value: "mean_rate", label: "Mean rate over texts" },
  { value: "share", label: "Share of category hits" },
  { value: "share_of_texts", label: "Share of texts" },
  { value: "hits", label: "Hits" },
  { value: "texts", label: "Texts with a hit" },
];
const PERIODS = ["year", "quarter", "month", "week", "day"];
export const UNITS: Record<Measure, string> = {
  rate: "per 1,000 words",
  mean_rate: "per 1,000 words, mean over texts",
  share: "% of category hits",
  share_of_texts: "% of texts",
  hits: "hits",
  texts: "texts with a hit",
};

function useSettings() {
  const fields = useFields();
  const [by, setBy] = useAddress("by", "source");
  const [period, setPeriod] = useAddress("period", "month");
  const [measure, setMeasure] = useAddress("measure", "rate");
  const [draw, setDraw] = useAddress("draw", "");
  const [against, setAgainst] = useAddress("against", "");
  const field = fields.find((one) => one.key === by);
  const dated = field?.kind === "date";
  return {
    against,
    setAgainst,
    fields,
    field,
    by,
    setBy,
    period,
    setPeriod,
    measure: measure as Measure,
    setMeasure,
    dated,
    draw: draw || (dated ? "trend" : "dots"),
    setDraw,
  };
}

export function Compare() {
  const project_id = useProjectId();
  const summary = useSummary().data;
  const { search } = useLocation();
  const all = useQuery({
    queryKey: ["project", project_id, "dictionaries"],
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/dictionaries", { params: { path: { project_id } } })),
  });
  const [wanted, setWanted] = useAddress("dictionary", "");
  if (!summary || all.isPending) return <Waiting what="Opening" />;
  if (all.error)
    return (
      <div className="p-4">
        <Failure error={all.error} />
      </div>
    );
  const dictionary = all.data.find((one) => String(one.id) === wanted) ?? all.data[0];
  if (!summary.texts)
    return (
      <Empty title="Nothing to compare yet">
        <p className="mb-4">Comparing needs texts and a dictionary. Bring in the texts first.</p>
        <Link to={`/projects/${project_id}/corpus/import${search}`}>
          <Button look="main">Import texts</Button>
        </Link>
      </Empty>
    );
  if (!dictionary || !summary.terms)
    return (
      <Empty title="Nothing to compare yet">
        <p className="mb-4">
          Comparing counts the categories of a dictionary. Make one with a few terms first.
        </p>
        <Link to={`/projects/${project_id}/dictionary${search}`}>
          <Button look="main">Go to the dictionary</Button>
        </Link>
      </Empty>
    );
  return <View dictionaries={all.data} dictionary={dictionary} onDictionary={setWanted} />;
}

function View({
  dictionaries,
  dictionary,
  onDictionary,
}: {
  dictionaries: readonly Schema["DictionaryPublic"][];
  dictionary: Schema["DictionaryPublic"];
  onDictionary: (id: string) => void;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const settings = useSettings();
  const revision = useSummary().data?.revision;
  const request: Schema["CompareRequest"] = {
    scope: [...scope],
    dictionary_id: dictionary.id,
    split:
      settings.by === "none"
        ? {}
        : { field: settings.by, period: settings.dated ? (settings.period as "month") : null },
    measure: settings.measure,
  };
  const found = useQuery({
    queryKey: ["project", project_id, "compare", revision, request],
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare", {
          params: { path: { project_id } },
          body: request,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const splitName =
    settings.by === "none" ? "all texts together" : (settings.field?.name.toLowerCase() ?? "");
  return (
    <div className="flex h-full">
      <Choices
        settings={settings}
        dictionaries={dictionaries}
        dictionary={dictionary}
        onDictionary={onDictionary}
      />
      <div className="min-w-0 flex-1 overflow-auto px-4 py-3.5">
        <div className="flex items-baseline gap-3">
          <h1 className="text-[19px] font-[650]">
            {settings.by === "none"
              ? "How often each category is used"
              : settings.dated
                ? `How the categories change by ${settings.period}`
                : `How each ${splitName} uses the categories`}
          </h1>
          <span className="ml-auto">
            <About topic="compare">
              Each dot is a category in a group of texts; the line through it is the 95% interval, with the
              text as the unit. Click a dot or a number to read the passages under it.
            </About>
          </span>
        </div>
        {settings.against && (
          <Beside first={dictionary.id} against={settings.against} split={request.split ?? {}} />
        )}
        {found.error && (
          <div className="mt-3">
            <Failure error={found.error} />
          </div>
        )}
        {found.isPending && !settings.against && <Waiting what="Counting" />}
        {found.data && !found.error && !settings.against && (
          <Result
            comparison={found.data}
            request={request}
            settings={settings}
            faint={found.isPlaceholderData}
          />
        )}
      </div>
    </div>
  );
}

function Choices({
  settings,
  dictionaries,
  dictionary,
  onDictionary,
}: {
  settings: ReturnType<typeof useSettings>;
  dictionaries: readonly Schema["DictionaryPublic"][];
  dictionary: Schema["DictionaryPublic"];
  onDictionary: (id: string) => void;
}) {
  const across = [
    ...settings.fields
      .filter((field) => field.can_split)
      .map((field) => ({ value: field.key, label: field.name })),
    { value: "none", label: "Nothing: all texts together" },
  ];
  return (
    <section
      aria-label="What to compare"
      className="w-[196px] shrink-0 overflow-auto border-r border-line2 px-4 py-3.5"
    >
      <Field label="Compare the categories of">
        {(id) => (
          <Select
            id={id}
            value={String(dictionary.id)}
            choices={dictionaries.map((one) => ({ value: String(one.id), label: one.name }))}
            onChange={onDictionary}
          />
        )}
      </Field>
      <Against
        dictionaries={dictionaries}
        dictionary={dictionary}
        value={settings.against}
        onChange={settings.setAgainst}
      />
      <Field label="Across">
        {(id) => <Select id={id} value={settings.by} choices={across} onChange={settings.setBy} />}
      </Field>
      {settings.dated && (
        <Field label="By">
          {(id) => (
            <Select
              id={id}
              value={settings.period}
              choices={PERIODS.map((one) => ({ value: one, label: one }))}
              onChange={settings.setPeriod}
            />
          )}
        </Field>
      )}
      <Field label="Measure">
        {(id) => (
          <Select id={id} value={settings.measure} choices={MEASURES} onChange={settings.setMeasure} />
        )}
      </Field>
      <div className="mb-3.5">
        <div className="mb-1 text-[12px] font-bold text-ink2">Draw as</div>
        <Segments
          label="Draw as"
          value={settings.draw}
          onChange={settings.setDraw}
          choices={[
            { value: "dots", label: "Dots" },
            { value: "table", label: "Table" },
            { value: "trend", label: "Trend", disabled: !settings.dated },
          ]}
        />
      </div>
      <div className="mb-1 text-[12px] font-bold text-ink2">Uncertainty</div>
      <p className="text-ink2">
        95% intervals with the text as the unit, so that one long article cannot decide the result.
      </p>
    </section>
  );
}

/** Another dictionary, or an earlier version of this one, on the same texts. */
function Against({
  dictionaries,
  dictionary,
  value,
  onChange,
}: {
  dictionaries: readonly Schema["DictionaryPublic"][];
  dictionary: Schema["DictionaryPublic"];
  value: string;
  onChange: (value: string) => void;
}) {
  const project_id = useProjectId();
  const versions = useQuery({
    queryKey: ["project", project_id, "versions", dictionary.id],
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/versions", {
          params: { path: { project_id, dictionary_id: dictionary.id } },
        }),
      ),
  });
  const choices = [
    { value: "", label: "nothing" },
    ...dictionaries
      .filter((one) => one.id !== dictionary.id)
      .map((one) => ({ value: `${one.id}.`, label: one.name })),
    ...(versions.data ?? [])
      .filter((one) => !one.now)
      .map((one) => ({
        value: `${dictionary.id}.${one.number}`,
        label: `its version ${one.number}${one.name ? ` “${one.name}”` : ""}`,
      })),
  ];
  if (choices.length === 1) return null;
  return (
    <Field label="Against">
      {(id) => (
        <Select
          id={id}
          value={choices.some((one) => one.value === value) ? value : ""}
          choices={choices}
          onChange={onChange}
        />
      )}
    </Field>
  );
}

function Beside({ first, against, split }: { first: number; against: string; split: Schema["Split"] }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const [other, number] = against.split(".");
  const body = {
    first: { dictionary_id: first, version: null },
    second: { dictionary_id: Number(other), version: number ? Number(number) : null },
    scope: [...scope],
    split,
  };
  const found = useQuery({
    queryKey: ["project", project_id, "sides", revision, body],
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries/side-by-side", {
          params: { path: { project_id } },
          body,
        }),
      ),
    retry: false,
  });
  if (found.isPending) return <Waiting what="Counting both" />;
  if (found.error)
    return (
      <div className="mt-3">
        <Failure error={found.error} />
      </div>
    );
  return (
    <div className="mt-2">
      <Sides sides={found.data} request={body} />
    </div>
  );
}

function Result({
  comparison,
  request,
  settings,
  faint,
}: {
  comparison: Comparison;
  request: Schema["CompareRequest"];
  settings: ReturnType<typeof useSettings>;
  faint: boolean;
}) {
  const project = useProjectId();
  const { scope } = useScope();
  const { show } = useEvidence();
  const { fail } = useToast();
  const figure = useRef<HTMLDivElement>(null);
  const open = (row: Comparison["rows"][number], group: string) =>
    show({
      title: settings.by === "none" ? row.label : `${row.label} in ${group}`,
      colour: row.colour,
      scope,
      request: {
        dictionary_id: request.dictionary_id,
        category_id: row.category_id,
        terms: [],
        split: request.split ?? {},
        group,
      },
    });
  const numbers = (form: "csv" | "xlsx") =>
    void saveFile(`/api/v1/projects/${project}/compare/export?form=${form}`, request).catch(fail);
  const picture = (kind: "svg" | "png") => {
    const svg = figure.current?.querySelector("svg[data-figure]");
    if (!(svg instanceof SVGSVGElement))
      return fail(
        new Error("The table has no picture; draw it as dots or a trend first, or export the numbers."),
      );
    const caption = `Dictionary “${comparison.dictionary}”, version ${comparison.version}; ${comparison.unit}; 95% intervals, the text as the unit.`;
    const name = `${comparison.dictionary} by ${settings.field?.name ?? "all"}`;
    if (kind === "svg")
      saveBlob(new Blob([pictureSvg(svg, caption)], { type: "image/svg+xml" }), `${name}.svg`);
    else picturePng(svg, caption).then((blob) => saveBlob(blob, `${name}.png`), fail);
  };
  if (!comparison.groups.length)
    return (
      <Empty title="No group has texts here">
        No text of the scope has a value in this field. Choose another one, or widen the scope.
      </Empty>
    );
  return (
    <div className={faint ? "opacity-60" : ""}>
      <p className="mb-2.5 text-ink2">
        Dictionary “{comparison.dictionary}”, version {comparison.version}. Every{" "}
        {settings.draw === "table" ? "number" : "dot"} opens its passages.
      </p>
      <Statements statements={comparison.statements} />
      <div ref={figure}>
        {settings.draw === "table" && <NumberTable comparison={comparison} onOpen={open} />}
        {settings.draw === "dots" && <DotPlot comparison={comparison} onOpen={open} />}
        {settings.draw === "trend" && <TrendPlot comparison={comparison} onOpen={open} />}
      </div>
      <div className="mt-3 flex gap-2 pb-4">
        <Menu
          trigger={<Button>Export ▾</Button>}
          items={[
            { label: "Numbers as Excel", onSelect: () => numbers("xlsx") },
            { label: "Numbers as .csv", onSelect: () => numbers("csv") },
            { label: "Picture as SVG", onSelect: () => picture("svg"), disabled: settings.draw === "table" },
            { label: "Picture as PNG", onSelect: () => picture("png"), disabled: settings.draw === "table" },
          ]}
        />
        <Popover width={480} trigger={<Button>How this was counted</Button>}>
          {comparison.method.map((part) => (
            <div key={part.heading} className="mb-2.5">
              <b>{part.heading}</b>
              <div>{part.words}</div>
              {part.source && <div className="text-ink2">{part.source}</div>}
            </div>
          ))}
        </Popover>
      </div>
    </div>
  );
}

function Statements({ statements }: { statements: readonly Schema["StatementPublic"][] }) {
  return (
    <div
      className="mb-3 rounded-r-[5px] border-l-[3px] border-bottle bg-tint px-3 py-2"
      data-testid="statements"
    >
      {statements.map((one, at) => (
        <p key={at} className={one.kind === "warning" ? "text-rust" : one.kind === "note" ? "text-ink2" : ""}>
          <Strong text={one.text} parts={one.strong} />
        </p>
      ))}
    </div>
  );
}

function Strong({ text, parts }: { text: string; parts: readonly string[] }) {
  if (!parts.length) return <>{text}</>;
  const escaped = parts.map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return (
    <>
      {text
        .split(new RegExp(`(${escaped.join("|")})`))
        .map((part, at) => (parts.includes(part) ? <b key={at}>{part}</b> : part))}
    </>
  );
}
