import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useRef, useState } from "react";
import { api, data } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { Button, Input } from "../../parts/controls";
import { Sign } from "../coding/panel";
import { ANY } from "../coding/question";

const SHOWN = 6;
/** So many letters of a passage name it. */
const WORDS = 80;

/** What a note can point to: a text, a code or a passage of it by name, or an address in the web. */
export function LinkForm({ onLink }: { onLink: (address: string, words: string) => void }) {
  const project_id = useProjectId();
  const [wanted, setWanted] = useState("");
  const { codes } = useCodebook();
  const typed = wanted.trim();
  const web = /^(https?:\/\/|www\.)\S+$/.test(typed);
  const texts = useQuery({
    queryKey: keys.of(project_id, "goto", "texts to link", typed),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/page", {
          params: { path: { project_id } },
          body: {
            scope: [{ kind: "title", contains: typed, field: "title", exclude: false }],
            find: "",
            sort: "title",
            descending: false,
            start: 0,
            most: SHOWN,
          },
        }),
      ),
    enabled: typed.length > 1 && !web,
  });
  const found = codes
    .filter((one) => typed && one.name.toLocaleLowerCase().includes(typed.toLocaleLowerCase()))
    .slice(0, SHOWN);
  const under = useQuery({
    queryKey: keys.of(project_id, "found passages", "to link", found[0]?.id),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/passages/find", {
          params: { path: { project_id } },
          body: { ...ANY, codes: [found[0]!.id], scope: [], start: 0, most: SHOWN },
        }),
      ),
    enabled: found.length === 1,
  });
  const box = useRef<HTMLDivElement>(null);
  const step = (event: KeyboardEvent, by: number) => {
    const places = [...(box.current?.querySelectorAll<HTMLElement>("input, li button") ?? [])];
    const at = places.indexOf(document.activeElement as HTMLElement);
    event.preventDefault();
    places[Math.max(0, Math.min(at + by, places.length - 1))]?.focus();
  };
  return (
    <search
      ref={box}
      onKeyDown={(event) => {
        if (event.key === "ArrowDown") step(event, 1);
        if (event.key === "ArrowUp") step(event, -1);
      }}
    >
      <Input
        autoFocus
        aria-label="Link to"
        placeholder="A title, a code, or a web address"
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          if (!web) return box.current?.querySelector<HTMLElement>("li button")?.click();
          onLink(typed.startsWith("www.") ? `https://${typed}` : typed, typed);
        }}
      />
      {web && (
        <Button
          look="main"
          className="mt-2"
          onClick={() => onLink(typed.startsWith("www.") ? `https://${typed}` : typed, typed)}
        >
          Link to this address
        </Button>
      )}
      <ul className="mt-2">
        {found.map((code) => (
          <li key={`code ${code.id}`}>
            <button
              type="button"
              onClick={() => onLink(`code:${code.id}`, code.name)}
              className="flex w-full items-baseline truncate rounded px-1.5 py-1 text-left hover:bg-tint"
            >
              <Sign code={code} />
              {code.name}
            </button>
          </li>
        ))}
        {(typed.length > 1 ? (texts.data?.rows ?? []) : []).map((text) => (
          <li key={`text ${text.id}`}>
            <button
              type="button"
              onClick={() => onLink(`text:${text.id}`, text.title || "a text")}
              className="w-full truncate rounded px-1.5 py-1 text-left hover:bg-tint"
            >
              {text.title} <span className="text-ink2">{text.source}</span>
            </button>
          </li>
        ))}
      </ul>
      {found.length === 1 && under.data && under.data.passages.length > 0 && (
        <section aria-label={`Passages of ${found[0]!.name}`} className="mt-1 border-t border-line pt-1">
          <span className="text-ink2">Passages of {found[0]!.name}</span>
          <ul>
            {under.data.passages.map((one) => (
              <li key={one.id}>
                <button
                  type="button"
                  onClick={() => onLink(`passage:${one.id}`, one.text.slice(0, WORDS))}
                  className="w-full truncate rounded px-1.5 py-1 text-left font-serif hover:bg-tint"
                  title={one.text}
                >
                  {one.text}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {!typed && <p className="text-ink2">Chosen words become the link; without any its name is put in.</p>}
    </search>
  );
}
