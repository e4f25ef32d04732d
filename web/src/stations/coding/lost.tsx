import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { type Paraphrase, useParaphraseChanges } from "../../data/notes";
import { useChange, useProjectId } from "../../data/project";
import type { Stretch } from "../../lib/chosen";
import { plural } from "../../lib/numbers";
import { Button, Popover } from "../../parts/controls";
import { useToast } from "../../parts/toast";

type Lost = Schema["LostPublic"];
const NO_PARAPHRASES: readonly Paraphrase[] = [];

/** Passages whose words went with a correction. */
function useLost(): readonly Lost[] {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "lost passages"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/lost-passages", { params: { path: { project_id } } })),
  });
  return found.data ?? [];
}

/** Those of a text, or of the project, with what they held; in a text they can be put on chosen words. */
export function LostPassages({
  textId,
  chosen,
  paraphrases = NO_PARAPHRASES,
  writes,
}: {
  textId?: number;
  chosen?: Stretch | null;
  /** Those of the text, of which some may have lost their words. */
  paraphrases?: readonly Paraphrase[] | undefined;
  writes: boolean;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const { tell } = useToast();
  const all = useLost().filter((one) => textId === undefined || one.text_id === textId);
  const one = (lost_id: number) => ({ params: { path: { project_id, lost_id } } });
  const place = useChange(
    ({ lost, words }: { lost: Lost; words: Stretch }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/lost-passages/{lost_id}/place", {
          ...one(lost.id),
          body: { text_id: textId ?? lost.text_id, ...words },
        }),
      ),
    (done) => tell(`${done.label}. Undo takes it back.`),
    "lost passages",
  );
  const drop = useChange(
    (lost: Lost) => data(api.DELETE("/api/v1/projects/{project_id}/lost-passages/{lost_id}", one(lost.id))),
    () => tell("Deleted. Undo brings it back."),
    "lost passages",
  );
  const said = paraphrases.filter((one) => one.start === null);
  if (!all.length && !said.length) return null;
  return (
    <Popover
      width={380}
      trigger={
        <Button look="ghost" className="text-rust!">
          {[
            all.length ? plural(all.length, "passage") : "",
            said.length ? plural(said.length, "paraphrase") : "",
          ]
            .filter(Boolean)
            .join(", ")}{" "}
          without words
        </Button>
      }
    >
      <p className="mb-2 text-ink2">
        A correction removed these words. What was attached to them is kept here
        {textId
          ? ": choose other words in the text and put it there."
          : "; open the text to put it elsewhere."}
      </p>
      <ul>
        {all.map((lost) => (
          <li key={lost.id} className="border-t border-line py-2" data-testid="lost">
            <div className="flex justify-between gap-2">
              <b>{lost.code}</b>
              <span className="text-ink2">{lost.coder}</span>
            </div>
            <p className="line-clamp-3 font-serif text-[14.5px]">{lost.words}</p>
            {lost.comment && <p className="text-ink2">{lost.comment}</p>}
            {writes && (
              <div className="mt-1 flex gap-2">
                {textId ? (
                  <Button
                    disabled={!chosen}
                    title={chosen ? undefined : "Choose the words in the text first"}
                    onClick={() => chosen && place.mutate({ lost, words: chosen })}
                  >
                    Attach to the chosen words
                  </Button>
                ) : (
                  <Link
                    to={`/projects/${project_id}/coding/read/${lost.text_id}${search}`}
                    className="self-center truncate text-bottle hover:underline"
                  >
                    {lost.title}
                  </Link>
                )}
                <Button look="ghost" onClick={() => drop.mutate(lost)}>
                  Delete
                </Button>
              </div>
            )}
          </li>
        ))}
        {said.map((one) => (
          <LostParaphrase key={one.id} one={one} chosen={chosen ?? null} writes={writes} />
        ))}
      </ul>
    </Popover>
  );
}

/** A paraphrase whose words are gone. */
function LostParaphrase({
  one,
  chosen,
  writes,
}: {
  one: Paraphrase;
  chosen: Stretch | null;
  writes: boolean;
}) {
  const { move, remove } = useParaphraseChanges();
  return (
    <li className="border-t border-line py-2" data-testid="lost">
      <div className="flex justify-between gap-2">
        <b>Paraphrase</b>
        <span className="text-ink2">{one.author}</span>
      </div>
      <p>{one.body}</p>
      {writes && (
        <div className="mt-1 flex gap-2">
          <Button
            disabled={!chosen}
            title={chosen ? undefined : "Choose the words in the text first"}
            onClick={() => chosen && move.mutate({ paraphrase: one, start: chosen.start, end: chosen.end })}
          >
            Attach to the chosen words
          </Button>
          <Button look="ghost" onClick={() => remove.mutate(one)}>
            Delete
          </Button>
        </div>
      )}
    </li>
  );
}
