import { useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import type { Network as Asked, NetworkAnswer } from "../../data/answers";
import { useProjectId, useScope, useSummary } from "../../data/project";
import { percent, whole } from "../../lib/numbers";
import { along, searchWithScope } from "../../lib/scope";
import { term } from "../../lib/terms";
import { Button } from "../../parts/controls";
import { CodeTopic } from "./topiccode";
import { useTopic, wordsOf } from "./usetopic";

/** The topics of a network: their passages, narrowed to, compared, named and coded. */
export function Topics({
  answer,
  asked,
  chosen,
  onChoose,
  small,
}: {
  answer: NetworkAnswer;
  asked: Asked;
  chosen: number | null;
  onChoose: (topic: number | null) => void;
  small: boolean;
}) {
  const show = useTopic(answer);
  const project = useProjectId();
  const { search } = useLocation();
  const navigate = useNavigate();
  const { scope } = useScope();
  const writes = useSummary().data?.role !== "reader";
  const [coding, setCoding] = useState<number | null>(null);
  if (!answer.topics.length) return null;
  const narrow = (topic: number) => {
    const terms = wordsOf(answer, topic).slice(0, 200);
    const next = searchWithScope(new URLSearchParams(window.location.search), [
      ...scope,
      { kind: "terms", terms, exclude: false },
    ]);
    void navigate({ search: `?${next}` });
  };
  const compare = () => {
    const categories = answer.topics.map((topic, at) => ({
      path: [topic.name],
      terms: wordsOf(answer, at).map((word) => term(word)),
      description: "",
      colour: at % 10,
    }));
    const target = { kind: "given", name: "Topics", categories };
    void navigate(
      `/projects/${project}/compare?compare=${encodeURIComponent(JSON.stringify({ target, measure: "rate" }))}`,
    );
  };
  const head = "border-b border-line2 px-2 py-1.5 text-right font-semibold text-ink2";
  return (
    <div className="mt-3">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 className="font-[650]">Topics</h2>
        <Button look="ghost" onClick={compare}>
          Compare them across groups
        </Button>
      </div>
      <section
        className="overflow-auto rounded-md border border-line bg-sheet"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
        tabIndex={0}
        aria-label="Topics"
      >
        <table className="w-full">
          <thead>
            <tr>
              <th className={`${head} text-left!`}>Topic</th>
              {!small && <th className={`${head} text-left!`}>Words</th>}
              <th className={head}>{asked.within === "paragraph" ? "Paragraphs" : "Sentences"}</th>
              <th className={head}>Texts</th>
              <th className={head} title="Share of its links that stay inside the topic">
                Inside
              </th>
              <th
                className={head}
                title="Share of its pairs of words that are in one topic again when texts are drawn again"
              >
                Stability
              </th>
              <th className={head} />
            </tr>
          </thead>
          <tbody>
            {answer.topics.map((topic, at) => (
              <tr
                key={topic.name}
                className={`h-[30px] border-b border-line last:border-0 ${chosen === at ? "bg-tint" : ""}`}
              >
                <td className="px-2 whitespace-nowrap">
                  <button
                    type="button"
                    className="font-semibold hover:underline"
                    onClick={() => onChoose(chosen === at ? null : at)}
                  >
                    <span
                      aria-hidden
                      className="mr-[7px] inline-block h-[9px] w-[9px] rounded-[2px]"
                      style={{ background: `var(--c${at % 10})` }}
                    />
                    {topic.name}
                  </button>
                </td>
                {!small && (
                  <td
                    className="max-w-[340px] truncate px-2 text-ink2"
                    title={wordsOf(answer, at).join(", ")}
                  >
                    {wordsOf(answer, at).slice(3).join(", ")}
                  </td>
                )}
                <td className="px-2 text-right">
                  <button
                    type="button"
                    aria-label={`Passages of topic ${topic.name}: ${whole(topic.units)}`}
                    onClick={() => show(at)}
                    className="hover:underline"
                  >
                    {whole(topic.units)}
                  </button>
                </td>
                <td className="px-2 text-right">{whole(topic.texts)}</td>
                <td className="px-2 text-right">{percent(topic.inside)}</td>
                <td className={`px-2 text-right ${topic.stays < 0.75 ? "text-rust" : ""}`}>
                  {percent(topic.stays)}
                </td>
                <td className="px-2 text-right whitespace-nowrap">
                  <Button
                    look="ghost"
                    onClick={() => narrow(at)}
                    title="Look only at texts with one of its words"
                  >
                    Narrow
                  </Button>
                  <Link
                    to={`/projects/${project}/notebook/assistant${along(search, {
                      task: "topic name",
                      words: wordsOf(answer, at).slice(0, 20).join(", "),
                    })}`}
                    title="Let the assistant propose names"
                    className="px-1 font-semibold text-bottle hover:underline"
                  >
                    Names
                  </Link>
                  {writes && (
                    <Button look="ghost" onClick={() => setCoding(at)}>
                      Name and code
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {coding !== null && answer.topics[coding] && (
        <CodeTopic
          name={answer.topics[coding]!.name}
          words={wordsOf(answer, coding)}
          within={asked.within ?? "sentence"}
          onClose={() => setCoding(null)}
        />
      )}
    </div>
  );
}
