import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Condition, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useFields, useProjectId, useScope } from "../../data/project";
import { whole } from "../../lib/numbers";
import { conditionLabel } from "../../lib/scope";
import { Button, Field, Segments, Select } from "../../parts/controls";
import { TextField } from "../../parts/fields";

type Rule = NonNullable<Schema["VariableCreate"]["rule"]>;
type How = "bands" | "period" | "category" | "fits";
const PERIODS = ["day", "week", "month", "quarter", "year"].map((value) => ({ value, label: value }));

/** A variable that follows from a rule, tried out before it is kept. */
export function DeriveForm({ onDone }: { onDone: () => void }) {
  const project_id = useProjectId();
  const fields = useFields();
  const { scope } = useScope();
  const numbers = fields.filter((field) => field.kind === "number");
  const dates = fields.filter((field) => field.kind === "date");
  const categories = useCategories();
  const [how, setHow] = useState<How>(numbers.some((field) => field.key !== "words") ? "bands" : "period");
  const [name, setName] = useState("");
  const [number, setNumber] = useState(numbers.find((field) => field.key !== "words")?.key ?? "words");
  const [cuts, setCuts] = useState("");
  const [day, setDay] = useState(dates[0]?.key ?? "date");
  const [period, setPeriod] = useState("quarter");
  const [category, setCategory] = useState("");
  const [count, setCount] = useState("no");
  const cutList = cuts
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map(Number);
  const chosen = category || String(categories[0]?.id ?? "");
  const rule: Rule | null =
    how === "bands"
      ? cutList.length && !cutList.some(Number.isNaN)
        ? { derive: "bands", field: number, cuts: cutList }
        : null
      : how === "period"
        ? { derive: "period", field: day, period: period as "month" }
        : how === "category"
          ? chosen
            ? { derive: "category", category_id: Number(chosen), count: count === "yes" }
            : null
          : scope.length
            ? { derive: "fits", scope: [...scope] }
            : null;
  const make = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/variables", {
          params: { path: { project_id } },
          body: { name, kind: "category", description: "", rule },
        }),
      ),
    onDone,
    "values",
  );
  return (
    <div>
      <div className="mb-3.5">
        <Segments
          label="From"
          value={how}
          onChange={(next) => setHow(next as How)}
          choices={[
            { value: "bands", label: "a number" },
            { value: "period", label: "a date" },
            { value: "category", label: "a dictionary" },
            { value: "fits", label: "the scope" },
          ]}
        />
      </div>
      {how === "bands" && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Number">
            {(id) => (
              <Select
                id={id}
                value={number}
                onChange={setNumber}
                choices={numbers.map((field) => ({ value: field.key, label: field.name }))}
              />
            )}
          </Field>
          <TextField
            label="Cut at"
            hint="The lowest of each next band: 18, 35, 65"
            value={cuts}
            onChange={setCuts}
          />
        </div>
      )}
      {how === "period" && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Date">
            {(id) => (
              <Select
                id={id}
                value={day}
                onChange={setDay}
                choices={dates.map((field) => ({ value: field.key, label: field.name }))}
              />
            )}
          </Field>
          <Field label="By">
            {(id) => <Select id={id} value={period} onChange={setPeriod} choices={PERIODS} />}
          </Field>
        </div>
      )}
      {how === "category" &&
        (categories.length ? (
          <div className="grid grid-cols-2 gap-3">
            <Field label="Category">
              {(id) => (
                <Select
                  id={id}
                  value={chosen}
                  onChange={setCategory}
                  choices={categories.map((one) => ({ value: String(one.id), label: one.label }))}
                />
              )}
            </Field>
            <Field label="Holds">
              {(id) => (
                <Select
                  id={id}
                  value={count}
                  onChange={setCount}
                  choices={[
                    { value: "no", label: "yes or no" },
                    { value: "yes", label: "how many hits" },
                  ]}
                />
              )}
            </Field>
          </div>
        ) : (
          <p className="mb-3 text-ink2">There is no dictionary with categories yet.</p>
        ))}
      {how === "fits" && (
        <p className="mb-3 text-ink2">
          {scope.length
            ? `Yes for texts where ${scope.map((condition) => conditionLabel(condition as Condition, fields)).join(" and ")}; else no.`
            : "Narrow the scope first, by values, sets or words; the variable says which texts fit it."}
        </p>
      )}
      <TextField label="Name of the variable" value={name} onChange={setName} maxLength={200} />
      {rule && <Try rule={rule} />}
      <Button
        look="main"
        disabled={!name.trim() || !rule || make.isPending}
        onClick={() => make.mutate(undefined)}
      >
        Make the variable
      </Button>
    </div>
  );
}

function useCategories() {
  const project_id = useProjectId();
  const path = { params: { path: { project_id } } };
  const found = useQuery({
    queryKey: keys.of(project_id, "all categories"),
    queryFn: async () => {
      const dictionaries = await data(api.GET("/api/v1/projects/{project_id}/dictionaries", path));
      const trees = await Promise.all(
        dictionaries.map((one) =>
          data(
            api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", {
              params: { path: { project_id, dictionary_id: one.id } },
            }),
          ),
        ),
      );
      return trees.flatMap((tree, at) =>
        tree.categories.map((category) => ({
          id: category.id,
          label: trees.length > 1 ? `${dictionaries[at]!.name}: ${category.name}` : category.name,
        })),
      );
    },
  });
  return found.data ?? [];
}

/** How texts would fall. */
function Try({ rule }: { rule: Rule }) {
  const project_id = useProjectId();
  const tried = useQuery({
    queryKey: keys.of(project_id, "try rule", rule),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/variables/try-rule", {
          params: { path: { project_id } },
          body: { rule },
        }),
      ),
    placeholderData: (before) => before,
  });
  if (tried.error)
    return (
      <p role="alert" className="mb-3 text-rust">
        {tried.error.message}
      </p>
    );
  if (!tried.data) return <p className="mb-3 text-ink2">Counting…</p>;
  return (
    <ul className="mb-3.5 max-h-[150px] overflow-auto rounded border border-line" aria-label="Texts by value">
      {tried.data.values.map((value, at) => (
        <li key={value} className="flex justify-between border-b border-line px-2.5 py-0.5 last:border-0">
          <span>{value}</span>
          <span>{whole(tried.data.texts[at] ?? 0)}</span>
        </li>
      ))}
    </ul>
  );
}
