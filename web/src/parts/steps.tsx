import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, data } from "../api/client";
import { keys } from "../data/keys";
import { useAddress, useProjectId, useScope } from "../data/project";
import { Button } from "./controls";

/** To the texts before and after one, in the order of the table; ``base`` is the address of a text without its number. */
export function Steps({ textId, base, all }: { textId: number; base: string; all?: string }) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { scope } = useScope();
  const [sort] = useAddress("sort", "date");
  const [down] = useAddress("down", "");
  const around = useQuery({
    queryKey: keys.of(project_id, "around", textId, scope, sort, down),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/{text_id}/around", {
          params: { path: { project_id, text_id: textId } },
          body: { scope: [...scope], sort, descending: down === "1" },
        }),
      ),
  });
  const previous = around.data?.previous ?? null;
  const next = around.data?.next ?? null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (
        event.target instanceof HTMLElement &&
        event.target.closest("input, textarea, select, [role=dialog]")
      )
        return;
      const to = event.key === "[" ? previous : event.key === "]" ? next : null;
      if (to !== null) void navigate(`${base}/${to}${withoutParagraph(search)}`);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const go = (id: number | null) => id !== null && navigate(`${base}/${id}${withoutParagraph(search)}`);
  return (
    <div className="mb-4 flex items-center gap-2 text-ink2">
      {all && (
        <Link to={`${all}${withoutParagraph(search)}`} className="font-semibold text-bottle hover:underline">
          All texts
        </Link>
      )}
      <span className="ml-auto">
        {around.data?.position
          ? `Text ${around.data.position.toLocaleString("en-GB")} of ${around.data.total.toLocaleString("en-GB")}`
          : "Outside the scope"}
      </span>
      <Button disabled={previous === null} onClick={() => go(previous)}>
        ‹ Previous
      </Button>
      <Button disabled={next === null} onClick={() => go(next)}>
        Next ›
      </Button>
    </div>
  );
}

function withoutParagraph(search: string): string {
  const next = new URLSearchParams(search);
  next.delete("paragraph");
  return next.size ? `?${next}` : "";
}
