import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, data } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId, useScope } from "../../data/project";
import { whole } from "../../lib/numbers";
import { languageName } from "../../lib/terms";
import { Button, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";

const REASONS = {
  form: "other forms",
  spelling: "other spellings",
  compound: "compounds",
  synonym: "synonyms",
} as const;

/** Other forms, spellings and synonyms of the words of a search, with their hits, to tick and take in. */
export function Offers({ query, onQuery }: { query: string; onQuery: (query: string) => void }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { fail } = useToast();
  const [ticked, setTicked] = useState<Record<string, readonly string[]>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: another search has other words
  useEffect(() => {
    setTicked({});
  }, [query]);
  const found = useQuery({
    queryKey: keys.of(project_id, "offers", query, scope),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/search/offers", {
          params: { path: { project_id } },
          body: { query, scope: [...scope] },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const words = (found.data?.words ?? []).filter((one) => one.offers.length);
  const count = Object.values(ticked).reduce((sum, one) => sum + one.length, 0);
  const toggle = (word: string, text: string) =>
    setTicked((now) => ({
      ...now,
      [word]: (now[word] ?? []).includes(text)
        ? now[word]!.filter((one) => one !== text)
        : [...(now[word] ?? []), text],
    }));
  const take = async () => {
    try {
      const out = await data(
        api.POST("/api/v1/projects/{project_id}/search/alternatives", {
          params: { path: { project_id } },
          body: {
            query,
            added: Object.fromEntries(Object.entries(ticked).map(([word, texts]) => [word, [...texts]])),
          },
        }),
      );
      onQuery(out.query);
    } catch (error) {
      fail(error);
    }
  };
  return (
    <section aria-label="Variants and synonyms" className="rounded-md border border-line bg-sheet px-3 py-2">
      <div className="flex items-center gap-2">
        <b>You may also mean</b>
        {count > 0 && (
          <Button look="main" onClick={() => void take()} className="ml-auto">
            Take in {count}
          </Button>
        )}
      </div>
      {found.isPending && <Waiting what="Looking for variants" />}
      {found.data && !words.length && (
        <p className="mt-1.5 text-ink2">
          The texts have no other forms or spellings of these words
          {found.data.thesaurus ? ", and none of their synonyms" : ""}.
        </p>
      )}
      {words.map((one) => (
        <div key={one.word} className="mt-2">
          <div className="text-ink2">
            <b className="text-ink">{one.word}</b> {whole(one.hits)}
          </div>
          {(["form", "spelling", "compound", "synonym"] as const).map((reason) => {
            const some = one.offers.filter((offer) => offer.reason === reason);
            return some.length ? (
              <div key={reason} className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-0.5">
                <span className="w-[96px] text-[11.5px] text-ink3">{REASONS[reason]}</span>
                {some.map((offer) => (
                  <label key={offer.text} className="flex items-center gap-1">
                    <input
                      type="checkbox"
                      checked={(ticked[one.word] ?? []).includes(offer.text)}
                      onChange={() => toggle(one.word, offer.text)}
                    />{" "}
                    {offer.text} <span className="text-ink2">{whole(offer.hits)}</span>
                  </label>
                ))}
              </div>
            ) : null;
          })}
        </div>
      ))}
      {found.data && !found.data.thesaurus && (
        <p className="mt-2 text-ink3">
          Synonyms are there for English only; the language of this project is{" "}
          {languageName(found.data.language)}.
        </p>
      )}
    </section>
  );
}
