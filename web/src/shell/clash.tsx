import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { alike, askAtClash, type Choice, type Clash } from "../api/clash";
import { Button } from "../parts/basic";
import { Dialog } from "../parts/floating";

/** How people call the fields that can clash. */
const NAMES: Record<string, string> = {
  name: "Name",
  description: "Description",
  source: "Term",
  note: "Note",
  body: "Text",
  match_case: "Exact case",
  ignore_accents: "Accents ignored",
  forms_of: "All forms of",
  colour: "Colour",
  category_id: "Category",
  parent_id: "Under",
  kind: "Kind",
  rule: "Rule",
  type: "Kind",
  title: "Title",
  authors: "Authors",
  year: "Year",
  container: "In",
  volume: "Volume",
  issue: "Issue",
  pages: "Pages",
  publisher: "Publisher",
  place: "Place",
  doi: "DOI",
  url: "Address",
  date: "Date",
};

interface Asked {
  clash: Clash;
  choose: (choice: Choice) => void;
}

/** Where two people changed the same thing, both versions, for the person here to choose. */
export function ClashDialog() {
  const client = useQueryClient();
  const [asked, setAsked] = useState<Asked | null>(null);
  useEffect(() => {
    const stop = askAtClash(
      (clash) =>
        new Promise((resolve) =>
          setAsked({
            clash,
            choose: (choice) => {
              setAsked(null);
              resolve(choice);
              void client.invalidateQueries();
            },
          }),
        ),
    );
    return () => stop();
  }, [client]);
  if (!asked) return null;
  const { clash, choose } = asked;
  return (
    <Dialog title="Somebody changed this in the meantime" open onClose={() => choose("theirs")} wide>
      <p className="mb-3 text-ink2">
        {clash.deleting
          ? "You were about to delete it. This is what it is now."
          : "Both versions are here; nothing has been lost. Which version do you want to keep?"}
      </p>
      <Versions clash={clash} />
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={() => choose("theirs")}>{clash.deleting ? "Keep it" : "Keep theirs"}</Button>
        <Button look="main" onClick={() => choose("mine")}>
          {clash.deleting ? "Delete anyway" : "Keep mine"}
        </Button>
      </div>
    </Dialog>
  );
}

function Versions({ clash }: { clash: Clash }) {
  const { mine, theirs, deleting } = clash;
  const shown = Object.keys(deleting ? theirs : mine).filter(
    (name) => NAMES[name] && (deleting ? theirs[name] : !alike(mine[name], theirs[name])),
  );
  if (!shown.length)
    return (
      <p className="rounded border border-line bg-page px-3 py-2">
        What you changed is the same in both; something else about it was changed.
      </p>
    );
  const head = "border-b border-line2 px-2.5 py-1.5 text-left font-semibold text-ink2";
  return (
    <table className="w-full table-fixed rounded border border-line">
      <thead>
        <tr>
          <th className={`${head} w-[110px]`}>{deleting ? "Field" : ""}</th>
          {!deleting && <th className={head}>Yours</th>}
          <th className={head}>{deleting ? "Now" : "Theirs"}</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((name) => (
          <tr key={name} className="border-b border-line align-top last:border-0">
            <th className="px-2.5 py-1.5 text-left font-normal text-ink2">{NAMES[name]}</th>
            {!deleting && <Version value={mine[name]} />}
            <Version value={theirs[name]} />
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Version({ value }: { value: unknown }) {
  const text = value === null || value === undefined || value === "" ? "empty" : written(value);
  return (
    <td className="px-2.5 py-1.5">
      <div className="max-h-[34vh] overflow-auto whitespace-pre-wrap break-words">{text}</div>
    </td>
  );
}

function written(value: unknown): string {
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "object" ? JSON.stringify(value) : String(value);
}
