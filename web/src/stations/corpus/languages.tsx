import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useProjectId, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { useToast } from "../../parts/toast";

/** The languages that texts were found to be in, and the texts of one. */
export function Languages({ found }: { found: Schema["CheckPublic"] }) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const { tell } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [language, setLanguage] = useState(found.languages[1]?.label ?? found.languages[0]?.label ?? "");
  const texts = useQuery({
    queryKey: keys.of(project_id, "check", "language", language, found.made_at),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/check/texts", {
          params: { path: { project_id }, query: { language, start: 0, most: 200 } },
        }),
      ),
    enabled: language !== "",
  });
  const keep = useChange(
    () =>
      data(api.POST("/api/v1/projects/{project_id}/check/language", { params: { path: { project_id } } })),
    () => tell("Kept as the variable “Language”, to narrow and split by."),
  );
  return (
    <div className="grid max-w-[900px] grid-cols-[260px_1fr] gap-6">
      <div>
        <ul className="mb-3 rounded-md border border-line bg-sheet">
          {found.languages.map((one) => (
            <li key={one.label}>
              <button
                type="button"
                aria-current={one.label === language}
                onClick={() => setLanguage(one.label)}
                className={`flex w-full justify-between border-b border-line px-3 py-1 text-left last:border-0 ${one.label === language ? "bg-tint" : "hover:bg-wash"}`}
              >
                <span>{one.label}</span>
                <span>{whole(one.texts)}</span>
              </button>
            </li>
          ))}
        </ul>
        {writes && <Button onClick={() => keep.mutate(undefined)}>Keep as a variable</Button>}
        <p className="mt-2 text-ink2">
          “Not sure” are texts that are too short, or whose letters do not decide.
        </p>
      </div>
      <div>
        <h2 className="mb-1.5 text-[14px] font-[650]">
          {language}
          {texts.data ? `: ${plural(texts.data.total, "text")}` : ""}
        </h2>
        <ul className="max-h-[60vh] overflow-auto rounded-md border border-line bg-sheet">
          {texts.data?.rows.map((row) => (
            <li key={row.id} className="flex gap-3 border-b border-line px-3 py-1 last:border-0">
              <Link
                to={`/projects/${project_id}/corpus/${row.id}${search}`}
                className="min-w-0 flex-1 truncate hover:underline"
              >
                {row.title}
              </Link>
              <span className="shrink-0 text-ink2">{row.source}</span>
              <span className="w-[80px] shrink-0 text-right text-ink2">{plural(row.words, "word")}</span>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}
