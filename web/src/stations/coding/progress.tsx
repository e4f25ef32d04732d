import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useFields, useProjectId, useScope, useUsualSplit } from "../../data/project";
import { useVariables } from "../../data/variables";
import { plural, whole } from "../../lib/numbers";
import { searchWithScope } from "../../lib/scope";
import { Button, Dialog, Failure, Field, Input, Segments, Select } from "../../parts/controls";
import { useToast } from "../../parts/toast";

/** Passages of texts, and who is through with each. */
export function useProgress(texts: readonly number[]) {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "progress", texts),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/coding/progress", {
          params: { path: { project_id } },
          body: { texts: [...texts] },
        }),
      ),
    enabled: texts.length > 0,
    placeholderData: (before) => before,
  });
  return new Map((found.data ?? []).map((one) => [one.text_id, one]));
}

/** Whether you are through with the text, and the next one of the scope that you are not through with. */
export function Progress({ textId, writes }: { textId: number; writes: boolean }) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { scope } = useScope();
  const { tell, fail } = useToast();
  const one = useProgress([textId]).get(textId);
  const path = { params: { path: { project_id, text_id: textId } } };
  const mark = useChange(
    (done: boolean) =>
      data(api.PUT("/api/v1/projects/{project_id}/texts/{text_id}/coding-done", { ...path, body: { done } })),
    undefined,
    "progress",
  );
  const client = useQueryClient();
  const asked = queryOptions({
    queryKey: keys.of(project_id, "progress", "next", textId, scope, one?.mine),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/{text_id}/next-to-code", {
          ...path,
          body: { scope: [...scope] },
        }),
      ),
  });
  const next = useQuery({ ...asked, placeholderData: (before) => before }).data;
  // what is next is asked when it is wanted: the answer that is shown may be of a moment ago
  const go = async () => {
    const found = await client.fetchQuery(asked).catch(fail);
    if (!found) return;
    if (found.text_id) {
      const kept = new URLSearchParams(search);
      kept.delete("paragraph");
      void navigate(`/projects/${project_id}/coding/read/${found.text_id}?${kept}`);
    } else tell("You are done with every text of the scope.");
  };
  const others = (one?.done ?? []).length - (one?.mine ? 1 : 0);
  return (
    <>
      <label
        className="flex items-center gap-1.5 text-ink2"
        title={one?.done.length ? `Done: ${one.done.join(", ")}` : undefined}
      >
        <input
          type="checkbox"
          disabled={!writes}
          checked={mark.isPending ? mark.variables : (one?.mine ?? false)}
          onChange={(event) => mark.mutate(event.target.checked)}
        />
        done{others > 0 ? ` (and ${plural(others, "other")})` : ""}
      </label>
      <Button
        onClick={() => void go()}
        title={
          next
            ? `${whole(next.total - next.left)} of ${plural(next.total, "text")} of the scope done`
            : undefined
        }
      >
        Next text to code{next?.left ? ` (${whole(next.left)})` : ""}
      </Button>
    </>
  );
}

type Drawn = Schema["SampleDrawn"];

/** A sample of the scope for hand coding, kept as a set. */
export function SampleDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { scope } = useScope();
  const fields = useFields();
  const variables = useVariables();
  const usual = useUsualSplit();
  const [by, setBy] = useState<string | null>(null);
  const [unit, setUnit] = useState("texts");
  const [many, setMany] = useState("10");
  const [seed, setSeed] = useState("");
  const [name, setName] = useState("");
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const { tell } = useToast();
  const field = by ?? usual.field ?? "";
  const kind = fields.find((one) => one.key === field)?.kind;
  const number = Number(many);
  const good = Number.isInteger(number) && number > 0;
  const body = (try_only: boolean, seed: number | null): Schema["TextSampleRequest"] => ({
    scope: [...scope],
    split: field ? { field, period: kind === "date" ? "month" : null } : {},
    texts_each: unit === "texts" ? number : null,
    words_each: unit === "words" ? number : null,
    seed,
    name,
    try_only,
  });
  const send = (given: Schema["TextSampleRequest"]) =>
    data(
      api.POST("/api/v1/projects/{project_id}/coding/sample", {
        params: { path: { project_id } },
        body: given,
      }),
    );
  const look = useChange(send, setDrawn, "jobs");
  const keep = useChange(
    send,
    (found) => {
      tell(`${found.label}. Undo takes it back.`);
      onClose();
    },
    "values",
  );
  const begin = async () => {
    if (!drawn) return;
    const found = await keep.mutateAsync(body(false, drawn.seed));
    const sets = variables.find((one) => one.role === "sets")?.key;
    const first = await data(
      api.GET("/api/v1/projects/{project_id}/fields", { params: { path: { project_id } } }),
    );
    const key = sets ?? first.find((one) => one.name === "Sets")?.key;
    if (!key) return;
    const next = searchWithScope(new URLSearchParams(search), [
      { kind: "values", field: key, values: [found.name], exclude: false },
    ]);
    next.delete("paragraph");
    const text = await data(
      api.POST("/api/v1/projects/{project_id}/texts/page", {
        params: { path: { project_id } },
        body: {
          scope: [{ kind: "values", field: key, values: [found.name], exclude: false }],
          find: "",
          sort: "date",
          descending: false,
          start: 0,
          most: 1,
        },
      }),
    );
    const id = text.rows[0]?.id;
    void navigate(`/projects/${project_id}/coding/read${id ? `/${id}` : ""}?${next}`);
  };
  const changed =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      setDrawn(null);
    };
  return (
    <Dialog title="Draw texts to code" open={open} onClose={onClose}>
      <p className="mb-3 text-ink2">
        Texts of the scope are drawn at random and kept as a set, so that the same ones can be coded by
        several people, and drawn again with the same number.
      </p>
      <div className="grid grid-cols-2 gap-x-4">
        <Field label="Of each">
          {(id) => (
            <Select
              id={id}
              value={field}
              choices={[
                { value: "", label: "the scope as a whole" },
                ...fields.filter((one) => one.can_split).map((one) => ({ value: one.key, label: one.name })),
              ]}
              onChange={changed((value: string) => setBy(value))}
            />
          )}
        </Field>
        <Field label="How many">
          {(id) => (
            <div className="flex items-center gap-2">
              <Input
                id={id}
                inputMode="numeric"
                value={many}
                onChange={(event) => changed(setMany)(event.target.value)}
                className="w-[84px]!"
              />
              <Segments
                label="Texts or words"
                value={unit}
                onChange={changed(setUnit)}
                choices={[
                  { value: "texts", label: "texts" },
                  { value: "words", label: "words" },
                ]}
              />
            </div>
          )}
        </Field>
        <Field label="Name of the set">
          {(id) => (
            <Input
              id={id}
              value={name}
              placeholder="To code"
              maxLength={200}
              onChange={(event) => setName(event.target.value)}
            />
          )}
        </Field>
        <Field label="Number of the draw" hint={drawn ? `Drawn with ${drawn.seed}` : undefined}>
          {(id) => (
            <Input
              id={id}
              inputMode="numeric"
              value={seed}
              placeholder="any"
              onChange={(event) => changed(setSeed)(event.target.value.replace(/\D/g, "").slice(0, 9))}
            />
          )}
        </Field>
      </div>
      {look.error && <Failure error={look.error} />}
      {drawn && (
        <div className="mb-3">
          <b>
            {plural(drawn.texts, "text")}, {plural(drawn.words, "word")}
          </b>
          <table className="mt-1 w-full">
            <tbody>
              {drawn.groups.slice(0, 12).map((group) => (
                <tr key={group.label} className="border-b border-line">
                  <td className="max-w-[180px] truncate py-0.5">{group.label}</td>
                  <td className="py-0.5 text-right">
                    {whole(group.texts)} of {whole(group.of_texts)}
                  </td>
                  <td className="py-0.5 text-right text-ink2">{plural(group.words, "word")}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {drawn.groups.length > 12 && (
            <p className="text-ink2">and {plural(drawn.groups.length - 12, "more group")}</p>
          )}
        </div>
      )}
      <div className="flex justify-end gap-2">
        <Button
          disabled={!good || look.isPending}
          onClick={() => look.mutate(body(true, Number(seed) || null))}
        >
          {drawn ? "Draw others" : "Draw"}
        </Button>
        <Button look="main" disabled={!drawn || keep.isPending} onClick={() => void begin()}>
          Keep as a set and begin
        </Button>
      </div>
    </Dialog>
  );
}
