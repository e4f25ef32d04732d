import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useAddress, useFields, useProjectId, useScope, useSummary } from "../../data/project";
import { useVariables } from "../../data/variables";
import { Button, Empty, Input, Menu } from "../../parts/controls";
import { About } from "../../shell/about";
import { CorpusHead } from "./head";
import { Profile } from "./profile";
import { Rail } from "./rail";
import { PROGRESS, Rows } from "./rows";

type FieldInfo = Schema["FieldInfo"];

export function TextTable() {
  const project = useProjectId();
  const { scope } = useScope();
  const summary = useSummary();
  const fields = useFields();
  const variables = useVariables();
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
      <div className="flex h-full flex-col">
        <CorpusHead />
        <Empty title="No texts yet">
          <p className="mb-4">
            The corpus holds the texts of the project: articles, posts, answers, interviews, studies. Bring in
            tables, documents, feeds or reference lists, loose or in folders and archives; or type a text.
          </p>
          <Link to={`/projects/${project}/corpus/import${search}`}>
            <Button look="main">Import texts</Button>
          </Link>
        </Empty>
      </div>
    );
  }
  const editable = new Set([
    "source",
    "date",
    "title",
    ...variables.filter((one) => !one.rule).map((one) => one.key),
  ]);
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="corpus">
          Each row is a text of the scope. Words are tokens with a letter or a digit. Click a heading to sort;
          texts without a value stand last.
        </About>
      </CorpusHead>
      <div className="flex min-h-0 flex-1">
        <Rail />
        <div className="flex min-w-0 flex-1 flex-col">
          <Profile fields={fields} />
          <div className="flex items-center gap-2 px-4 pb-2">
            <Input
              type="search"
              aria-label="Find in titles and texts"
              placeholder="Find in titles and texts"
              value={find}
              onChange={(event) => setFind(event.target.value)}
              className="max-w-[280px]"
            />
            <Menu
              trigger={<Button>Columns ▾</Button>}
              items={columns.all.map((field) => ({
                label: `${columns.shown.includes(field.key) ? "✓" : "\u2007\u2007"} ${field.name}`,
                onSelect: () => columns.toggle(field.key),
              }))}
            />
          </div>
          <Rows
            key={project}
            scope={scope}
            find={find}
            sort={sort}
            descending={down === "1"}
            onSort={sortBy}
            columns={columns.all.filter((field) => columns.shown.includes(field.key))}
            editable={editable}
          />
        </div>
      </div>
    </div>
  );
}

/** Which variables are shown, kept per person and project. */
function useColumns(project_id: number, fields: readonly FieldInfo[]) {
  const path = { params: { path: { project_id, name: "columns" } } };
  const kept = useQuery({
    queryKey: keys.of(project_id, "preference", "columns"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/preferences/{name}", path)),
    staleTime: Infinity,
  });
  const [now, setNow] = useState<readonly string[] | null>(null);
  const all = fields
    .filter((field) => field.key.startsWith("v") || ["subcorpora", PROGRESS].includes(field.key))
    .map((field) => (field.key === PROGRESS ? { ...field, name: "Coding" } : field));
  const shown = now ?? kept.data?.value ?? all.slice(0, 3).map((field) => field.key);
  const toggle = (field: string) => {
    const next = shown.includes(field) ? shown.filter((one) => one !== field) : [...shown, field];
    setNow(next);
    void data(
      api.PUT("/api/v1/projects/{project_id}/preferences/{name}", { ...path, body: { value: next } }),
    );
  };
  return { all, shown, toggle };
}
