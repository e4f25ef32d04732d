import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import type { Table } from "../../data/comparison";
import { useDictionaries } from "../../data/dictionaries";
import { keys } from "../../data/keys";
import { levelText } from "../../data/measures";
import { useProjectId, useSummary } from "../../data/project";
import { divides, splitName } from "../../lib/split";
import { Button, Empty, Failure, Waiting } from "../../parts/controls";
import { About } from "../../shell/about";
import { Sides } from "../dictionary/sides";
import { Choices } from "./choices";
import { CompareHead } from "./head";
import { ofNumbers } from "./numbers";
import { Result } from "./result";
import { type Compared, useCompared } from "./settings";

export function Compare() {
  const project_id = useProjectId();
  const summary = useSummary().data;
  const { search } = useLocation();
  const all = useDictionaries();
  if (!summary || all.isPending) return <Waiting what="Opening" />;
  if (all.error)
    return (
      <div className="p-4">
        <Failure error={all.error} />
      </div>
    );
  const first = all.data[0];
  if (!summary.texts)
    return (
      <Empty title="Nothing to compare yet">
        <p className="mb-4">Comparing needs texts and a dictionary. Bring in the texts first.</p>
        <Link to={`/projects/${project_id}/corpus/import${search}`}>
          <Button look="main">Import texts</Button>
        </Link>
      </Empty>
    );
  const terms = first && summary.terms > 0;
  const asked = new URLSearchParams(search);
  if (!terms && !summary.passages && !asked.has("compare")) {
    asked.set("compare", JSON.stringify({ target: ofNumbers("field.words"), measure: "mean" }));
    return (
      <Empty title="Nothing to compare yet">
        <p className="mb-4">
          Comparing counts the categories of a dictionary, or coded passages. Make a dictionary with a few
          terms first, or code some texts. Words you type, values and numbers of the texts can be compared
          without.
        </p>
        <div className="flex justify-center gap-2">
          <Link to={`/projects/${project_id}/dictionary${search}`}>
            <Button look="main">Go to the dictionary</Button>
          </Link>
          <Link to={`/projects/${project_id}/compare?${asked}`}>
            <Button>Compare the texts themselves</Button>
          </Link>
        </div>
      </Empty>
    );
  }
  return <View dictionaries={all.data} first={terms ? first.id : null} />;
}

function View({
  dictionaries,
  first,
}: {
  dictionaries: readonly Schema["DictionaryPublic"][];
  /** A dictionary with terms; without one codes are compared. */
  first: number | null;
}) {
  const project_id = useProjectId();
  const compared = useCompared(first);
  const { comparison, fields, against } = compared;
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "compare", revision, comparison),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare", {
          params: { path: { project_id } },
          body: comparison,
        }),
      ),
    placeholderData: (before) => before,
    enabled: fields.length > 0,
    retry: false,
  });
  return (
    <div className="flex h-full flex-col">
      <CompareHead>
        <About topic="compare">
          Each dot is a category in a group of texts; the line through it is the {levelText(comparison.level)}{" "}
          interval. Click a dot or a number to read the passages under it. The findings above the picture say
          which differences are significant, their details how that was tested.
        </About>
      </CompareHead>
      <Choices compared={compared} dictionaries={dictionaries} table={found.data} />
      <div className="min-h-0 min-w-0 flex-1 overflow-auto px-4 py-2">
        <h1 className="mb-1 text-[17px] font-[650]">{headline(compared, found.data)}</h1>
        {against && <Beside compared={compared} />}
        {found.error && (
          <div className="mt-3">
            <Failure error={found.error} />
          </div>
        )}
        {found.isPending && !against && <Waiting what="Counting" />}
        {found.data && !found.error && !against && (
          <Result table={found.data} compared={compared} faint={found.isPlaceholderData} />
        )}
      </div>
    </div>
  );
}

/** What is compared across what; rows are called as the answer calls them. */
function headline({ comparison, fields, dated }: Compared, table: Table | undefined): string {
  const nouns = table?.nouns ?? "categories";
  const { split } = comparison;
  if (comparison.target.kind === "numbers") {
    const by = dated ? `by ${split?.period ?? "month"}` : `by ${splitName(split ?? {}, fields)}`;
    const [first, ...more] = table?.rows ?? [];
    const [mean, differ] =
      first && !more.length ? [`mean ${first.label}`, "differs"] : [`means of ${nouns}`, "differ"];
    return divides(split) ? `How the ${mean} ${differ} ${by}` : `The ${mean}`;
  }
  if (!divides(split)) return `How often the ${nouns} are found`;
  if (split?.parts?.length) return `How the ${nouns} differ between parts of the corpus`;
  if (split?.codes?.length) return `How the ${nouns} differ between the words under codes`;
  if (split?.crossed) return `How the ${nouns} differ by ${splitName(split, fields)}`;
  if (dated) return `How the ${nouns} change by ${split?.period ?? "month"}`;
  const by = splitName({ field: split?.field ?? null }, fields);
  return nouns === "bands" || nouns === "values"
    ? `How the ${nouns} differ by ${by}`
    : `How each ${by} uses the ${nouns}`;
}

/** Another dictionary, or an earlier version of this one, on the same texts. */
function Beside({ compared }: { compared: Compared }) {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const { target, scope, split } = compared.comparison;
  const [other, number] = compared.against.split(".");
  const body = {
    first: { dictionary_id: target.kind === "dictionary" ? target.dictionary : 0, version: null },
    second: { dictionary_id: Number(other), version: number ? Number(number) : null },
    scope: [...(scope ?? [])],
    split: split ?? {},
  };
  const found = useQuery({
    queryKey: keys.of(project_id, "sides", revision, body),
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
