import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId, useScope } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button, Empty, Input } from "../../parts/controls";
import { useToast } from "../../parts/toast";

type Names = Readonly<Record<string, string>>;
type By = "speakers" | "heading" | "section" | "page" | "item";
const MOST_SHOWN = 200;

/** Names that are ticked as long as nobody chose: whoever speaks, near spellings under the more frequent one. */
export function usualNames(names: readonly Schema["RunName"][]): Names {
  const out: Record<string, string> = {};
  for (const one of names.slice(0, 40)) if (!one.field) out[one.name] = one.like ?? one.name;
  return out;
}

/** All names found, ticked, with what each is called; lines that are fields of the text are offered as that. */
export function RunNames({
  found,
  by,
  pattern,
  chosen,
  onChoose,
}: {
  found: Schema["RunNames"];
  by: By;
  pattern: string;
  chosen: Names;
  onChoose: (chosen: Names) => void;
}) {
  const shown = found.names.slice(0, MOST_SHOWN);
  if (!shown.length)
    return (
      <Empty title={by === "speakers" ? "Nobody speaks here" : `No ${by} in these texts`}>
        {by === "speakers"
          ? "No line of these texts begins with a name and a colon. Say above how a turn begins."
          : by === "item"
            ? "No line of these texts begins with a bullet, a dash, a number or a letter in brackets."
            : "Only texts that came with parts of this kind have them; choose another kind above."}
      </Empty>
    );
  const tick = (name: string, called: string | null) => {
    const { [name]: _, ...others } = chosen;
    onChoose(called === null ? others : { ...others, [name]: called });
  };
  return (
    <section aria-label="Names found" className="border-b border-line px-4 py-3">
      <div className="mb-1 flex items-center gap-3">
        <b className="text-ink2">
          {plural(found.total, "name")}, {Object.keys(chosen).length} ticked
        </b>
        {found.looked < found.texts && (
          <span className="text-ink2">
            from {whole(found.looked)} of {whole(found.texts)} texts, evenly spread; the run looks through all
          </span>
        )}
        <span className="ml-auto flex gap-2">
          <Button look="ghost" onClick={() => onChoose(usualNames(found.names))}>
            As proposed
          </Button>
          <Button look="ghost" onClick={() => onChoose({})}>
            None
          </Button>
        </span>
      </div>
      {/** biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it */}
      <fieldset className="max-h-[210px] overflow-auto" tabIndex={0} aria-label="Names">
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
              <th className="py-1 text-left font-normal">found as</th>
              <th className="py-1 text-left font-normal">called</th>
              <th className="py-1 font-normal">{by === "speakers" ? "turns" : "parts"}</th>
              <th className="py-1 font-normal">texts</th>
              <th className="py-1 font-normal">words</th>
              <th className="py-1 pl-4 text-left font-normal">&nbsp;</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((one) => {
              const on = one.name in chosen;
              return (
                <tr key={one.name} className="border-b border-line text-right">
                  <td className="max-w-[240px] text-left">
                    <label className="flex items-center gap-2">
                      <input
                        type="checkbox"
                        checked={on}
                        onChange={() => tick(one.name, on ? null : (one.like ?? one.name))}
                      />
                      <span className="truncate font-semibold">{one.name}</span>
                    </label>
                  </td>
                  <td className="py-0.5 text-left">
                    {on && by === "speakers" && (
                      <Input
                        aria-label={`What ${one.name} is called`}
                        value={chosen[one.name]}
                        maxLength={120}
                        onChange={(event) => tick(one.name, event.target.value)}
                        className="w-[170px]!"
                      />
                    )}
                  </td>
                  <td>{whole(one.turns)}</td>
                  <td>{whole(one.texts)}</td>
                  <td>{whole(one.words)}</td>
                  <td className="pl-4 text-left text-ink2">
                    {one.like && `perhaps ${one.like}`}
                    {one.field && <AsField name={one.name} pattern={pattern} />}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </fieldset>
      {found.total > shown.length && (
        <p className="mt-1 text-ink2">and {plural(found.total - shown.length, "more name")}, less frequent</p>
      )}
    </section>
  );
}

/** Lines like "Age: 34" as a variable of their texts. */
function AsField({ name, pattern }: { name: string; pattern: string }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { tell } = useToast();
  const make = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/fields", {
          params: { path: { project_id } },
          body: { names: [name], pattern, scope: [...scope] },
        }),
      ),
    (made) => tell(`${made.label}: ${plural(made.texts, "text")}. Undo takes it back.`),
    "values",
  );
  return (
    <span className="flex items-center gap-2">
      looks like a field of the text
      <Button look="ghost" disabled={make.isPending || make.isSuccess} onClick={() => make.mutate(undefined)}>
        {make.isSuccess ? "made" : "Make it a variable"}
      </Button>
    </span>
  );
}
