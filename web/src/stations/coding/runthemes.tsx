import { useState } from "react";
import type { Schema } from "../../api/client";
import { type ThemeHead, type ThemePhrase, useThemes } from "../../data/learning";
import type { Recipe } from "../../data/runs";
import { percent, plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Input, Select, Waiting } from "../../parts/controls";
import type { Draft } from "./rundraft";

const MOST_SHOWN = 60;
const MOST_GROUPS = 5;
const HEAD = "py-1 pl-3 font-normal whitespace-nowrap";
type Order = "hits" | "missed" | "even";
const ORDERS: { value: Order; label: string }[] = [
  { value: "hits", label: "most frequent first" },
  { value: "missed", label: "least coded so far first" },
  { value: "even", label: "most evenly spread first" },
];

/** Noun phrases of the texts under their head words: ticked, merged under one name, and coded. */
export function RunThemes({
  draft,
  scope,
  split,
  onChange,
}: {
  draft: Draft;
  scope: NonNullable<Recipe["scope"]>;
  split: Schema["Split"];
  onChange: (part: Partial<Draft>) => void;
}) {
  const found = useThemes(scope, split);
  const [find, setFind] = useState("");
  const [order, setOrder] = useState<Order>("hits");
  const [open, setOpen] = useState<readonly string[]>([]);
  const [most, setMost] = useState(MOST_SHOWN);
  if (found.error)
    return (
      <div className="p-4">
        <Failure error={found.error} />
      </div>
    );
  const data = found.data;
  if (!data) return <Waiting what="Looking for phrases" />;
  if (!data.heads.length)
    return (
      <Empty title="No phrases in these texts">
        A phrase must come at least three times. Widen the scope, or import more texts.
      </Empty>
    );
  const wanted = find.trim().toLowerCase();
  const fits = (one: ThemeHead) =>
    !wanted || one.words.includes(wanted) || one.phrases.some((phrase) => phrase.words.includes(wanted));
  const shown = sorted(data.heads.filter(fits), order);
  const groups = data.labels.slice(0, MOST_GROUPS);
  const tick = (one: ThemePhrase, called: string | null) => {
    const { [one.words]: _, ...others } = draft.themes;
    onChange({ themes: called === null ? others : { ...others, [one.words]: { called, forms: one.forms } } });
  };
  const turn = (words: string) =>
    setOpen(open.includes(words) ? open.filter((one) => one !== words) : [...open, words]);
  const n = new Set(Object.values(draft.themes).map((one) => one.called.trim())).size;
  return (
    <section aria-label="Themes found" className="border-b border-line px-4 py-3">
      <div className="mb-1.5 flex flex-wrap items-center gap-3">
        <b className="text-ink2">
          {plural(data.heads.length, "head word")}, {n} {n === 1 ? "theme" : "themes"} ticked
        </b>
        <Input
          aria-label="Find among the phrases"
          placeholder="Find"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          className="w-[130px]!"
        />
        <Select
          aria-label="Order of the phrases"
          value={order}
          choices={ORDERS}
          onChange={(value) => setOrder(value as Order)}
          className="w-auto!"
        />
        {n > 0 && (
          <Button look="ghost" onClick={() => onChange({ themes: {} })}>
            None
          </Button>
        )}
      </div>
      <p className="mb-1.5 text-ink2">
        {data.by_list
          ? "Nouns with their adjectives, recognised by a word list and not in context; a word that is both noun and verb can be among them."
          : "No word list with parts of speech ships for this language: these are the words between function words."}{" "}
        Phrases with the same name become one theme.
      </p>
      {/** biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it */}
      <fieldset className="max-h-[300px] overflow-auto" tabIndex={0} aria-label="Phrases">
        <table className="w-full border-collapse">
          <thead className="sticky top-0 z-10 bg-sheet">
            <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
              <th className="py-1 text-left font-normal">phrase</th>
              <th className="py-1 text-left font-normal">called</th>
              <th className={HEAD}>hits</th>
              <th className={HEAD}>texts</th>
              <th className={HEAD} title="Gries’ DP over 40 parts of the corpus: 0 even, 1 all in one part">
                unevenness
              </th>
              <th className={HEAD} title="Share of its hits that lie in coded passages">
                coded
              </th>
              {groups.map((label) => (
                <th key={label} title={label} className="max-w-[84px] truncate py-1 pl-3 font-normal">
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.slice(0, most).map((head) => (
              <Under
                key={head.words}
                head={head}
                open={open.includes(head.words) || (wanted !== "" && !head.words.includes(wanted))}
                themes={draft.themes}
                groups={groups.length}
                onTurn={() => turn(head.words)}
                onTick={tick}
              />
            ))}
          </tbody>
        </table>
        {shown.length > most && (
          <Button look="ghost" className="mt-1" onClick={() => setMost(most + MOST_SHOWN * 2)}>
            {plural(shown.length - most, "more head word")}
          </Button>
        )}
        {!shown.length && <p className="py-2 text-ink2">No phrase has “{find}” in it.</p>}
      </fieldset>
    </section>
  );
}

/** What was missed stands out: the order by how little is coded looks only at what comes often enough. */
function sorted(heads: readonly ThemeHead[], order: Order): readonly ThemeHead[] {
  if (order === "hits") return heads;
  const by = (one: ThemeHead) =>
    order === "missed" ? one.covered / one.hits : (one.evenness ?? Number.POSITIVE_INFINITY);
  return [...heads].sort((a, b) => by(a) - by(b) || b.hits - a.hits);
}

function Under({
  head,
  open,
  themes,
  groups,
  onTurn,
  onTick,
}: {
  head: ThemeHead;
  open: boolean;
  themes: Draft["themes"];
  groups: number;
  onTurn: () => void;
  onTick: (one: ThemePhrase, called: string | null) => void;
}) {
  return (
    <>
      <Row one={head} themes={themes} groups={groups} onTick={onTick}>
        {head.phrases.length > 0 && (
          <Button look="ghost" aria-expanded={open} onClick={onTurn}>
            {open ? "Fewer" : plural(head.phrases.length, "phrase")}
          </Button>
        )}
      </Row>
      {open &&
        head.phrases.map((one) => (
          <Row key={one.words} one={one} themes={themes} groups={groups} onTick={onTick} under />
        ))}
    </>
  );
}

function Row({
  one,
  themes,
  groups,
  under = false,
  onTick,
  children,
}: {
  one: ThemePhrase;
  themes: Draft["themes"];
  groups: number;
  under?: boolean;
  onTick: (one: ThemePhrase, called: string | null) => void;
  children?: React.ReactNode;
}) {
  const called = themes[one.words]?.called;
  return (
    <tr className="border-b border-line text-right">
      <td className={`max-w-[260px] text-left ${under ? "pl-6" : ""}`}>
        <span className="flex items-center gap-2">
          <label className="flex min-w-0 items-center gap-2">
            <input
              type="checkbox"
              checked={called !== undefined}
              onChange={() => onTick(one, called === undefined ? capital(one.words) : null)}
            />
            <span title={one.forms.join(", ")} className={`truncate ${under ? "" : "font-semibold"}`}>
              {one.words}
            </span>
          </label>
          {children}
        </span>
      </td>
      <td className="py-0.5 text-left">
        {called !== undefined && (
          <Input
            aria-label={`What ${one.words} is called`}
            value={called}
            maxLength={120}
            onChange={(event) => onTick(one, event.target.value)}
            className="w-[150px]!"
          />
        )}
      </td>
      <td className="pl-3">{whole(one.hits)}</td>
      <td className="pl-3">{whole(one.texts)}</td>
      <td className="pl-3">{one.evenness === null ? "–" : one.evenness.toFixed(2)}</td>
      <td className={`pl-3 ${one.covered === 0 ? "text-rust" : ""}`}>{percent(one.covered / one.hits)}</td>
      {one.groups.slice(0, groups).map((hits, at) => (
        <td key={at} className="pl-3 text-ink2">
          {whole(hits)}
        </td>
      ))}
    </tr>
  );
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
