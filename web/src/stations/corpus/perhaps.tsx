import { useState } from "react";
import type { Schema } from "../../api/client";
import { plural, whole } from "../../lib/numbers";
import { Button, Select } from "../../parts/controls";
import type { Again } from "./again";
import { Words } from "./words";

type Found = Schema["ExpectedPublic"];
type One = Schema["PerhapsPublic"];
type Choice = "" | "correct" | "leave";
const SHOWN = 10;

/** New rows that are nearly a text that is here: each can be taken as new, as its corrected form, or left out. */
export function PerhapsCorrected({
  found,
  again,
  onAgain,
}: {
  found: Found;
  again: Again;
  onAgain: (again: Again) => void;
}) {
  const [all, setAll] = useState(false);
  if (!found.nearly) return null;
  const shown = all ? found.perhaps : found.perhaps.slice(0, SHOWN);
  return (
    <div className="mt-2 border-t border-line pt-2.5" data-testid="perhaps">
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        <span>
          <b>{plural(found.nearly, "new row")}</b> {found.nearly === 1 ? "is" : "are"} nearly a text that is
          here, of the same source and day: perhaps corrected.
        </span>
        <Button
          onClick={() => onAgain(found.perhaps.reduce((now, one) => decided(now, one, "correct"), again))}
        >
          Take all as corrections
        </Button>
        <Button
          onClick={() => onAgain(found.perhaps.reduce((now, one) => decided(now, one, "leave"), again))}
        >
          Leave all out
        </Button>
      </div>
      <ul className="rounded border border-line">
        {shown.map((one) => (
          <li
            key={one.identity}
            className="grid grid-cols-[170px_1fr_auto] items-start gap-3 border-b border-line px-2.5 py-1.5 last:border-0"
          >
            <div className="min-w-0">
              <div className="truncate font-semibold" title={one.name}>
                {one.name}
              </div>
              <div className="truncate text-ink2" title={one.file}>
                {one.file}
                {one.row ? `, row ${whole(one.row)}` : ""}
              </div>
            </div>
            <p className="min-w-0 font-serif text-[14px]">
              {one.words.map((part, at) => (
                <Words key={at} part={part} />
              ))}
            </p>
            <Select
              aria-label={`What to do with ${one.name}`}
              value={choiceOf(again, one)}
              choices={[
                { value: "", label: "a new text" },
                { value: "correct", label: "correct the text here" },
                { value: "leave", label: "leave it out" },
              ]}
              onChange={(choice) => onAgain(decided(again, one, choice as Choice))}
              className="w-auto!"
            />
          </li>
        ))}
      </ul>
      {!all && found.perhaps.length > SHOWN && (
        <Button className="mt-1.5" onClick={() => setAll(true)}>
          Show {whole(found.perhaps.length - SHOWN)} more
        </Button>
      )}
    </div>
  );
}

function choiceOf(again: Again, one: One): Choice {
  if (again.corrects.some((row) => row.identity === one.identity)) return "correct";
  return again.left_out.includes(one.identity) ? "leave" : "";
}

/** The choices with one row decided. */
export function decided(again: Again, one: One, choice: Choice): Again {
  const corrects = again.corrects.filter((row) => row.identity !== one.identity);
  const left_out = again.left_out.filter((identity) => identity !== one.identity);
  if (choice === "correct") corrects.push({ identity: one.identity, text_id: one.text_id });
  if (choice === "leave") left_out.push(one.identity);
  return { ...again, corrects, left_out };
}
