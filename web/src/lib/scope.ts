import type { Condition, Schema } from "../api/client";
import { date } from "./numbers";

/** The scope lives in the address of the page, so that a view can be sent to a colleague. */
export function scopeFromSearch(search: URLSearchParams): Condition[] {
  const written = search.get("scope");
  if (!written) return [];
  try {
    const found: unknown = JSON.parse(written);
    return Array.isArray(found) ? (found as Condition[]) : [];
  } catch {
    return [];
  }
}

export function searchWithScope(search: URLSearchParams, scope: readonly Condition[]): URLSearchParams {
  const next = new URLSearchParams(search);
  if (scope.length) next.set("scope", JSON.stringify(scope));
  else next.delete("scope");
  return next;
}

/** What goes along from view to view: the scope, and the evidence that lies open. */
export function carried(search: string): URLSearchParams {
  const now = new URLSearchParams(search);
  const kept = ["scope", "evidence"].flatMap((name) => {
    const value = now.get(name);
    return value ? [[name, value]] : [];
  });
  return new URLSearchParams(kept);
}

/** The search part of an address in which the scope goes along, with what else is said there. */
export function along(search: string, more: Record<string, string | number> = {}): string {
  const next = carried(search);
  for (const [name, value] of Object.entries(more)) next.set(name, String(value));
  return next.size ? `?${next}` : "";
}

type Field = Schema["FieldInfo"];

/** What a condition says, short enough for a chip. */
export function conditionLabel(condition: Condition, fields: readonly Field[]): string {
  const name = (key: string) => fields.find((field) => field.key === key)?.name ?? key;
  const not = condition.exclude ? "not " : "";
  switch (condition.kind) {
    case "values": {
      const values = condition.values.map((value) => value ?? "no value");
      const shown =
        values.length > 2
          ? `${values.slice(0, 2).join(", ")} and ${values.length - 2} more`
          : values.join(" or ");
      return condition.field === "source" ? `${not}${shown}` : `${name(condition.field)}: ${not}${shown}`;
    }
    case "dates":
      return `${not}${date(condition.low) || "start"} to ${date(condition.high) || "end"}`;
    case "numbers":
      return `${name(condition.field)}: ${not}${condition.low ?? "any"} to ${condition.high ?? "any"}`;
    case "terms":
      return condition.exclude
        ? `without “${condition.terms.join("” or “")}”`
        : `has “${condition.terms.join("” or “")}”`;
    case "inside": {
      const codes = condition.codes.map((code) => code.split(" > ").at(-1)).join(" or ");
      return condition.exclude ? `all but passages: ${codes}` : `only passages: ${codes}`;
    }
    case "finds":
      return `${condition.exclude ? "does not mention" : "mentions"} “${condition.words}”`;
    case "matches":
      return `${condition.exclude ? "not found by" : "found by"} ${condition.query}`;
    case "title":
      return `${name(condition.field ?? "title")} contains “${condition.contains}”`;
  }
}
