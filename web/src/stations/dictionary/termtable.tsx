import { useState } from "react";
import type { Schema } from "../../api/client";
import { useAddress, useFields, useUsualSplit } from "../../data/project";
import { percent, whole } from "../../lib/numbers";
import { splitName } from "../../lib/split";
import { Button, Popover } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { TermRow, WHERE_WIDE } from "./termrow";

type Category = Schema["CategoryPublic"];
type Term = Schema["TermPublic"];
type SortKey = "term" | "hits" | "texts" | "evenness" | "quality";

interface TableProps {
  dictionary: Schema["DictionaryTree"];
  category: Category;
  profiles: Schema["CategoryProfiles"] | undefined;
  quality: Schema["ReviewQuality"] | undefined;
  counts: Schema["DictionaryCounts"] | undefined;
  care: Schema["CarePublic"] | undefined;
  writes: boolean;
  onJudge: (term: Term) => void;
  onVerdicts: (term: Term) => void;
}

const MOST_ROWS = 300;

/** The terms of a category with what they catch, where, and how well. */
export function TermTable({
  dictionary,
  category,
  profiles,
  quality,
  counts,
  care,
  writes,
  onJudge,
  onVerdicts,
}: TableProps) {
  const [sort, setSort] = useState<{ key: SortKey; down: boolean }>({ key: "hits", down: true });
  const [shown, setShown] = useState(MOST_ROWS);
  const [wanted, setWanted] = useAddress("precision", "0.8");
  const by = splitName(useUsualSplit(), useFields());
  if (!category.terms.length)
    return (
      <p className="mt-4 text-ink2">
        No term in this category itself yet. Type one above: what it catches shows while you type.
      </p>
    );
  const profileOf = (term: Term) => profiles?.terms[String(term.id)];
  const value = (term: Term): string | number => {
    const profile = profileOf(term);
    if (sort.key === "term") return term.source.toLowerCase();
    if (sort.key === "quality") return quality?.parts[String(term.id)]?.share ?? (sort.down ? -1 : 2);
    return (
      (sort.key === "hits" ? profile?.hits : sort.key === "texts" ? profile?.texts : profile?.evenness) ?? -1
    );
  };
  const terms = [...category.terms].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    const order = typeof x === "string" ? x.localeCompare(String(y)) : x - Number(y);
    return (sort.down ? -order : order) || a.id - b.id;
  });
  const head = (key: SortKey, name: string, left = false, more = "") => (
    <th
      aria-sort={sort.key === key ? (sort.down ? "descending" : "ascending") : "none"}
      className={`border-b border-line2 px-2.5 py-1.5 font-semibold text-ink2 ${more} ${left ? "w-[34%] text-left" : "text-right"}`}
    >
      <button
        type="button"
        onClick={() =>
          setSort({ key, down: sort.key === key ? !sort.down : key !== "term" && key !== "quality" })
        }
        className="font-semibold whitespace-nowrap hover:text-ink"
      >
        {name}
        {sort.key === key ? (sort.down ? " ↓" : " ↑") : ""}
      </button>
    </th>
  );
  const top = Math.max(
    0,
    ...Object.values(profiles?.terms ?? {}).flatMap((p) => p.group_rates.map((r) => r ?? 0)),
  );
  const notesOf = (term: Term) => {
    const notes: { text: string; title: string }[] = [];
    const profile = profileOf(term);
    if (counts?.double_terms.includes(term.id))
      notes.push({ text: "in two categories", title: "The same wording stands in another category" });
    if (profile?.remark) notes.push({ text: "very common", title: profile.remark });
    if (care?.idle.includes(term.id))
      notes.push({ text: "adds nothing", title: "Every hit is caught by other terms of this category" });
    const carries = care?.carrying.find((one) => one.term_id === term.id);
    if (carries)
      notes.push({
        text: `carries ${percent(carries.share)}`,
        title: "Most of the category’s hits come from this term alone",
      });
    const mixed = care?.mixed.find((one) => one.term_id === term.id);
    if (mixed)
      notes.push({
        text: "two meanings?",
        title: `Occurs in two different contexts: ${mixed.words.map((words) => words.join(", ")).join("; or ")}`,
      });
    return notes;
  };
  return (
    <>
      <div className="@container mt-3 overflow-x-auto rounded-md border border-line bg-sheet">
        <table className="w-full min-w-[600px]" aria-label="Terms">
          <thead>
            <tr>
              {head("term", "Term", true)}
              {head("hits", "Hits")}
              {head("texts", "Texts")}
              <th className="border-b border-line2 px-2.5 py-1.5 text-left font-semibold whitespace-nowrap text-ink2">
                Where it falls <span className="font-normal">(by {by})</span>
              </th>
              {head("evenness", "Evenness", false, WHERE_WIDE)}
              <th
                aria-sort={sort.key === "quality" ? (sort.down ? "descending" : "ascending") : "none"}
                className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold whitespace-nowrap text-ink2"
              >
                <button
                  type="button"
                  onClick={() =>
                    setSort({ key: "quality", down: sort.key === "quality" ? !sort.down : false })
                  }
                  className="font-semibold hover:text-ink"
                >
                  Judged right{sort.key === "quality" ? (sort.down ? " ↓" : " ↑") : ""}
                </button>
                <Popover
                  width={230}
                  trigger={
                    <button
                      type="button"
                      aria-label="Precision that is wanted"
                      className="ml-1 text-ink3 hover:text-ink"
                    >
                      ▾
                    </button>
                  }
                >
                  <TextField
                    label="Terms below this stand out"
                    hint="Judged right over judged. Terms are in rust where the share is lower."
                    type="number"
                    min={0}
                    max={1}
                    step={0.05}
                    value={wanted}
                    onChange={setWanted}
                  />
                </Popover>
              </th>
              <th className="border-b border-line2">
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {terms.slice(0, shown).map((term) => (
              <TermRow
                key={term.id}
                dictionary={dictionary}
                category={category}
                term={term}
                profile={profileOf(term)}
                quality={quality?.parts[String(term.id)]}
                groups={profiles?.groups ?? []}
                top={top}
                notes={notesOf(term)}
                wanted={Number(wanted)}
                writes={writes}
                onJudge={onJudge}
                onVerdicts={onVerdicts}
              />
            ))}
          </tbody>
        </table>
      </div>
      {terms.length > shown && (
        <div className="mt-2 text-center">
          <Button onClick={() => setShown(shown + 1000)}>
            Show {whole(Math.min(1000, terms.length - shown))} more of {whole(terms.length)} terms
          </Button>
        </div>
      )}
    </>
  );
}
