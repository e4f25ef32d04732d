import type { Condition, Schema } from "../../api/client";
import { ofDictionary, ofSearch } from "../../data/comparison";
import { useDictionary } from "../../data/dictionaries";
import { useAddress } from "../../data/project";
import { pathOf } from "../../lib/tree";

/** The category that a view shows the hits of, from the address: "dictionary.path of the category". */
export function useCategoryShown() {
  const [written, setCategory] = useAddress("hits-of", "");
  const dot = written.indexOf(".");
  const dictionary_id = Number(written.slice(0, Math.max(dot, 0)));
  const path = written.slice(dot + 1);
  const tree = useDictionary(dictionary_id);
  const category = tree.data?.categories.find((one) => pathOf(tree.data, one) === path);
  return { dictionary_id, path, category, setCategory, asked: Boolean(written) };
}

/** What a concordance or its company is asked for: the cell of a comparison. */
export type Asked = Pick<Schema["EvidenceRequest"], "comparison" | "cell">;

/** The hits of a category, else of a search; none where neither is named. */
export function askedFor(
  query: string,
  category: { dictionary_id: number; path: string } | null,
  scope: readonly Condition[],
): Asked | null {
  if (category)
    return { comparison: ofDictionary(category.dictionary_id, scope), cell: { row: category.path } };
  return query.trim() ? { comparison: ofSearch(query.trim(), scope), cell: {} } : null;
}

/** The search that was asked for, "" for a category. */
export function queryOf(asked: Asked): string {
  return asked.comparison.target.kind === "search" ? asked.comparison.target.query : "";
}
