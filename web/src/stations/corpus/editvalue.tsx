import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, data } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId, useSummary } from "../../data/project";
import { Input } from "../../parts/controls";

/** A field to type a value into, with values used before. Enter keeps, Escape leaves it as it was. */
export function ValueInput({
  field,
  kind,
  value,
  onChange,
  onKeep,
  onLeave,
  autoFocus = false,
  id,
}: {
  field: string;
  kind: string;
  value: string;
  onChange: (value: string) => void;
  onKeep?: () => void;
  onLeave?: () => void;
  autoFocus?: boolean;
  id?: string;
}) {
  const list = useId();
  const [asked, setAsked] = useState(autoFocus);
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  // of several values, the one being typed is what is looked up
  const last = kind === "several" ? (value.split(";").at(-1) ?? "").trim() : value;
  const earlier = useQuery({
    queryKey: keys.of(project_id, "values", revision, field, last),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/values", {
          params: { path: { project_id }, query: { field, q: last } },
        }),
      ),
    enabled: asked && (kind === "category" || kind === "several"),
    placeholderData: (before) => before,
  });
  const head = kind === "several" && value.includes(";") ? `${value.slice(0, value.lastIndexOf(";"))}; ` : "";
  return (
    <>
      <Input
        id={id}
        autoFocus={autoFocus}
        type={kind === "date" ? "date" : "text"}
        inputMode={kind === "number" ? "decimal" : undefined}
        list={list}
        value={value}
        placeholder={kind === "several" ? "several, separated by ;" : ""}
        onFocus={() => setAsked(true)}
        onChange={(event) => onChange(event.target.value)}
        onBlur={onLeave}
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") onKeep?.();
          if (event.key === "Escape") onLeave?.();
        }}
      />
      <datalist id={list}>
        {earlier.data?.values.map((one) => (
          <option key={one} value={head + one} />
        ))}
      </datalist>
    </>
  );
}
