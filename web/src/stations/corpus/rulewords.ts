import type { Condition, Schema } from "../../api/client";
import { conditionLabel } from "../../lib/scope";

type Rule = NonNullable<Schema["VariablePublic"]["rule"]>;

/** How a derived variable comes about, in words. */
export function ruleWords(rule: Rule, fields: readonly Schema["FieldInfo"][]): string {
  const name = (key: string) => fields.find((field) => field.key === key)?.name ?? key;
  switch (rule.derive) {
    case "bands":
      return `${name(rule.field)} cut at ${rule.cuts.join(", ")}`;
    case "period":
      return `${name(rule.field)} by ${rule.period}`;
    case "fits":
      return `yes where ${rule.scope.map((condition) => conditionLabel(condition as Condition, fields)).join(" and ")}`;
    case "category":
      return rule.count ? "hits of a dictionary category" : "yes where a dictionary category has a hit";
  }
}
