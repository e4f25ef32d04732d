import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, data, ProblemError, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { languageName, type TermOptions, term } from "../../lib/terms";
import { Button, Input, Select } from "../../parts/controls";

type Fields = Schema["TermFieldsModel"];
type Cell = Schema["CellModel"];
type Condition = Schema["ConditionModel"];

const RELATIONS = [
  { value: "near", label: "near" },
  { value: "before", label: "before" },
  { value: "after", label: "after" },
  { value: "unless-near", label: "unless near" },
  { value: "unless-before", label: "unless before" },
  { value: "unless-after", label: "unless after" },
  { value: "unless-part-of", label: "unless part of" },
];
const cell = (text = ""): Cell => ({ text, kind: "words", least: 0, most: 0 });
const empty: Fields = {
  rows: [[cell()]],
  conditions: [],
  match_case: false,
  ignore_accents: false,
  forms_of: "",
};

/** A term as fields: the same as its text, both ways. */
export function FieldsForm({
  source,
  options,
  language,
  onChange,
}: {
  source: string;
  options: TermOptions;
  language: string;
  onChange: (source: string, options: TermOptions) => void;
}) {
  const project_id = useProjectId();
  const [fields, setFields] = useState<Fields>(empty);
  const [said, setSaid] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const asked = useRef(0);
  const written = JSON.stringify([source, options]);
  // fields follow the text, unless the text came from these very fields
  const read = useQuery({
    queryKey: keys.of(project_id, "term fields", written),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/terms/fields", {
          params: { path: { project_id } },
          body: { ...options, source },
        }),
      ),
    enabled: source.trim() !== "" && said !== source,
    retry: false,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when a new answer came
  useEffect(() => {
    if (read.data && said !== source)
      setFields({
        ...read.data,
        match_case: options.match_case,
        ignore_accents: options.ignore_accents,
        forms_of: options.forms_of,
      });
  }, [read.data]);
  const put = (next: Fields) => {
    setFields(next);
    asked.current += 1;
    const mine = asked.current;
    if (!next.rows.some((row) => row.some((one) => one.text.trim()))) return;
    data(
      api.POST("/api/v1/projects/{project_id}/terms/text", { params: { path: { project_id } }, body: next }),
    )
      .then((out) => {
        if (mine !== asked.current) return; // more was typed meanwhile
        setProblem(null);
        setSaid(out.source);
        onChange(
          out.source,
          term(out.source, {
            match_case: out.match_case,
            ignore_accents: out.ignore_accents,
            forms_of: out.forms_of,
          }),
        );
      })
      .catch(
        (error: unknown) =>
          mine === asked.current && setProblem(error instanceof ProblemError ? error.message : String(error)),
      );
  };
  const setCondition = (at: number, change: Partial<Condition>) =>
    put({
      ...fields,
      conditions: (fields.conditions ?? []).map((one, n) => (n === at ? { ...one, ...change } : one)),
    });
  return (
    <fieldset aria-label="Term as fields" className="mt-2 rounded-md border border-line bg-sheet px-3 py-2.5">
      <Rows label="Find" rows={fields.rows} onChange={(rows) => put({ ...fields, rows })} />
      {(fields.conditions ?? []).map((one, at) => (
        <div key={at} className="mt-2 border-t border-line pt-2">
          <div className="mb-1 flex items-center gap-2">
            <Select
              aria-label="Condition"
              value={`${one.unless ? "unless-" : ""}${one.relation}`}
              choices={RELATIONS}
              className="!w-[140px]"
              onChange={(value) =>
                setCondition(at, {
                  unless: value.startsWith("unless-"),
                  relation: value.replace("unless-", "") as Condition["relation"],
                })
              }
            />
            {one.relation !== "part-of" && (
              <Select
                aria-label="How near"
                value={String(one.within ?? 0)}
                className="!w-[180px]"
                onChange={(value) => setCondition(at, { within: Number(value) || null })}
                choices={[
                  { value: "0", label: "in the same sentence" },
                  ...[...new Set([1, 2, 3, 5, 8, 10, 15, 20, 50, 100, one.within ?? 5])]
                    .sort((a, b) => a - b)
                    .map((n) => ({
                      value: String(n),
                      label: n === 1 ? "the next word" : `within ${n} words`,
                    })),
                ]}
              />
            )}
            <Button
              look="ghost"
              className="ml-auto"
              onClick={() =>
                put({ ...fields, conditions: (fields.conditions ?? []).filter((_, n) => n !== at) })
              }
            >
              Remove
            </Button>
          </div>
          <Rows
            label="Words of the condition"
            rows={one.rows}
            onChange={(rows) => setCondition(at, { rows })}
          />
        </div>
      ))}
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line pt-2">
        <Button
          look="ghost"
          onClick={() =>
            setFields({
              ...fields,
              conditions: [
                ...(fields.conditions ?? []),
                { relation: "near", unless: false, within: 5, rows: [[cell()]] },
              ],
            })
          }
        >
          + Condition
        </Button>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={fields.match_case}
            onChange={(event) => put({ ...fields, match_case: event.target.checked, forms_of: "" })}
          />{" "}
          exact case
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={fields.ignore_accents}
            onChange={(event) => put({ ...fields, ignore_accents: event.target.checked })}
          />{" "}
          ignore accents
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={Boolean(fields.forms_of)}
            onChange={(event) =>
              put({ ...fields, forms_of: event.target.checked ? language : "", match_case: false })
            }
          />{" "}
          all forms of each word ({languageName(language)})
        </label>
      </div>
      {problem && (
        <div role="alert" className="mt-1.5 text-rust">
          {problem}
        </div>
      )}
    </fieldset>
  );
}

/** Ways in which words can stand: any of the rows; in a row one cell after the other, with gaps. */
function Rows({
  label,
  rows,
  onChange,
}: {
  label: string;
  rows: readonly Cell[][];
  onChange: (rows: Cell[][]) => void;
}) {
  const set = (row: number, at: number, change: Partial<Cell>) =>
    onChange(
      rows.map((cells, r) =>
        r === row ? cells.map((one, n) => (n === at ? { ...one, ...change } : one)) : [...cells],
      ),
    );
  return (
    <div>
      {rows.map((cells, row) => (
        <div key={row} className="mb-1 flex flex-wrap items-center gap-1.5">
          <span className="w-[32px] text-right text-ink2">{row ? "or" : label === "Find" ? "find" : ""}</span>
          {cells.map((one, at) => (
            <span key={at} className="flex items-center gap-1">
              {at > 0 && (
                <span className="flex items-center gap-1 text-ink2">
                  <Input
                    aria-label="Words between, at least"
                    type="number"
                    min={0}
                    max={20}
                    value={one.least ?? 0}
                    onChange={(event) =>
                      set(row, at, {
                        least: Number(event.target.value),
                        most: Math.max(Number(event.target.value), one.most ?? 0),
                      })
                    }
                    className="!w-[44px]"
                  />
                  to
                  <Input
                    aria-label="Words between, at most"
                    type="number"
                    min={0}
                    max={20}
                    value={one.most ?? 0}
                    onChange={(event) => set(row, at, { most: Number(event.target.value) })}
                    className="!w-[44px]"
                  />
                  words, then
                </span>
              )}
              <Input
                aria-label={`${label}, row ${row + 1}, part ${at + 1}`}
                value={one.text}
                placeholder={one.kind === "expression" ? "sub(sid|ven).*" : "words, * and ?"}
                spellCheck={false}
                onChange={(event) => set(row, at, { text: event.target.value })}
                className={`!w-[170px] ${one.kind === "expression" ? "font-mono" : ""}`}
              />
              <Select
                aria-label="Kind"
                value={one.kind ?? "words"}
                choices={[
                  { value: "words", label: "words" },
                  { value: "expression", label: "expression" },
                ]}
                onChange={(value) => set(row, at, { kind: value as "words" })}
                className="!w-[92px] text-ink2"
              />
              {(cells.length > 1 || rows.length > 1) && (
                <button
                  type="button"
                  aria-label="Remove this part"
                  onClick={() =>
                    onChange(
                      rows
                        .map((c, r) => (r === row ? c.filter((_, n) => n !== at) : [...c]))
                        .filter((c) => c.length),
                    )
                  }
                  className="px-1 text-ink3 hover:text-rust"
                >
                  ×
                </button>
              )}
            </span>
          ))}
          <Button
            look="ghost"
            onClick={() => onChange(rows.map((c, r) => (r === row ? [...c, cell()] : [...c])))}
          >
            + then
          </Button>
          {row === rows.length - 1 && (
            <Button look="ghost" onClick={() => onChange([...rows.map((c) => [...c]), [cell()]])}>
              + or
            </Button>
          )}
        </div>
      ))}
    </div>
  );
}
