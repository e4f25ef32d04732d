import { useQuery } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import { type Code, type Passage, useCodebook } from "../../data/coding";
import { useDictionaries } from "../../data/dictionaries";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { Button, Popover, Select, Swatch } from "../../parts/controls";

/** Which marks are shown: whose, and which codes, colours and technical codes are hidden. */
export interface Shown {
  /** "" everybody's, "mine", or the name of a coder. */
  whose: string;
  codes: ReadonlySet<number>;
  colours: ReadonlySet<number>;
  technical: boolean;
}
export const ALL_SHOWN: Shown = { whose: "", codes: new Set(), colours: new Set(), technical: false };
const MINE = "mine";
const HAND = "by hand";
const RUN = "by runs";

export function isShown(passage: Passage, code: Code | undefined, shown: Shown): boolean {
  if (!isWhose(passage, shown.whose)) return false;
  if (code?.technical && !shown.technical) return false;
  return !shown.codes.has(passage.code_id) && !shown.colours.has(code?.colour ?? 7);
}

function isWhose(passage: Passage, whose: string): boolean {
  if (whose === MINE) return passage.mine;
  if (whose === HAND) return !passage.run_id;
  if (whose === RUN) return Boolean(passage.run_id);
  return !whose || passage.coder === whose;
}

/** Groups of codes across the tree. */
export function useGroups() {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "groups of codes"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/codebook/groups", { params: { path: { project_id } } })),
  });
  return found.data ?? [];
}

/** What marks of a text are shown, and hits of a dictionary beside them. */
export function MarksMenu({
  shown,
  hits,
  onShow,
  onHits,
}: {
  shown: Shown;
  /** The dictionary whose hits are marked, "" for none. */
  hits: string;
  onShow: (shown: Shown) => void;
  onHits: (dictionary: string) => void;
}) {
  const book = useCodebook();
  const groups = useGroups();
  const dictionaries = useDictionaries().data ?? [];
  const coders = book.data?.coders ?? [];
  const colours = [...new Set(book.codes.map((one) => one.colour))].sort((a, b) => a - b);
  const hidden = shown.codes.size > 0 || shown.colours.size > 0;
  const said = [
    shown.whose === MINE ? "yours" : shown.whose || (coders.length > 1 ? "everybody’s" : ""),
    hidden ? "some hidden" : "",
    hits ? "with hits" : "",
  ].filter(Boolean);
  return (
    <Popover
      width={280}
      trigger={<Button look="ghost">Marks{said.length ? `: ${said.join(", ")}` : ""}</Button>}
    >
      <div className="grid grid-cols-[64px_1fr] items-center gap-x-2 gap-y-2">
        <span className="text-ink2">Whose</span>
        <Select
          aria-label="Marks of"
          value={shown.whose}
          onChange={(whose) => onShow({ ...shown, whose })}
          choices={[
            { value: "", label: "everybody" },
            { value: MINE, label: "you alone" },
            ...(coders.some((one) => one.id < 0)
              ? [
                  { value: HAND, label: "people, by hand" },
                  { value: RUN, label: "runs" },
                ]
              : []),
            ...coders.filter((one) => !one.me).map((one) => ({ value: one.name, label: one.name })),
          ]}
        />
        {dictionaries.length > 0 && (
          <>
            <span className="text-ink2">Hits of</span>
            <Select
              aria-label="Hits of a dictionary"
              value={hits}
              onChange={onHits}
              choices={[
                { value: "", label: "no dictionary" },
                ...dictionaries.map((one) => ({ value: String(one.id), label: one.name })),
              ]}
            />
          </>
        )}
      </div>
      {groups.length > 0 && (
        <fieldset className="mt-3">
          <legend className="mb-1 font-bold text-ink2">Groups</legend>
          {groups.map((group) => (
            <label key={group.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={!group.codes.length || group.codes.some((id) => !shown.codes.has(id))}
                onChange={(event) => {
                  const codes = new Set(shown.codes);
                  for (const id of group.codes)
                    if (event.target.checked) codes.delete(id);
                    else codes.add(id);
                  onShow({ ...shown, codes });
                }}
              />
              {group.name}
            </label>
          ))}
        </fieldset>
      )}
      {colours.length > 1 && (
        <fieldset className="mt-3">
          <legend className="mb-1 font-bold text-ink2">Colours</legend>
          <div className="flex flex-wrap gap-2">
            {colours.map((colour) => (
              <label key={colour} className="flex items-center">
                <input
                  type="checkbox"
                  aria-label={`Marks in colour ${colour + 1}`}
                  checked={!shown.colours.has(colour)}
                  onChange={() => {
                    const next = new Set(shown.colours);
                    if (!next.delete(colour)) next.add(colour);
                    onShow({ ...shown, colours: next });
                  }}
                />
                <Swatch colour={colour} className="ml-1" />
              </label>
            ))}
          </div>
        </fieldset>
      )}
      {book.codes.some((one) => one.technical) && (
        <label className="mt-3 flex items-center gap-2">
          <input
            type="checkbox"
            checked={shown.technical}
            onChange={() => onShow({ ...shown, technical: !shown.technical })}
          />
          technical codes
        </label>
      )}
      {hidden && (
        <Button className="mt-3" onClick={() => onShow({ ...shown, codes: new Set(), colours: new Set() })}>
          Show all codes
        </Button>
      )}
    </Popover>
  );
}
