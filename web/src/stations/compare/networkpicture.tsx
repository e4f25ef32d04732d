import { useMemo } from "react";
import type { NetworkAnswer } from "../../data/answers";
import { plural } from "../../lib/numbers";
import { useWidth } from "./dots";
import { apartFrom, type Box } from "./labels";
import { useTopic } from "./usetopic";

const HEIGHT = 520;

/** The network drawn: words, ties, topics in their colours. */
export function Picture({
  answer,
  chosen,
  onChoose,
  onLeave,
}: {
  answer: NetworkAnswer;
  chosen: number | null;
  onChoose: (topic: number | null) => void;
  onLeave: (word: string) => void;
}) {
  const [holder, width] = useWidth();
  const pad = 46;
  const x = (at: number) => pad + answer.words[at]!.x * (width - 2 * pad);
  const y = (at: number) => 24 + answer.words[at]!.y * (HEIGHT - 48);
  const most = Math.max(...answer.words.map((word) => word.texts), 1);
  const size = (at: number) => 10.5 + Math.sqrt(answer.words[at]!.texts / most) * 7.5;
  const heavy = Math.max(...answer.ties.map((tie) => tie.weight), 1e-9);
  const faint = (topic: number) => (chosen !== null && topic !== chosen ? 0.25 : 1);
  const named = useMemo(() => apart(answer, width), [answer, width]);
  const show = useTopic(answer);
  return (
    <div ref={holder}>
      <svg
        data-figure
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Network of words"
        className="block rounded-md border border-line bg-sheet"
        fontFamily="var(--font-sans)"
      >
        {answer.ties.map((tie) => {
          const [a, b] = [answer.words[tie.first]!, answer.words[tie.second]!];
          const same = a.topic === b.topic && a.topic >= 0;
          return (
            <line
              key={`${tie.first}.${tie.second}`}
              x1={x(tie.first)}
              y1={y(tie.first)}
              x2={x(tie.second)}
              y2={y(tie.second)}
              stroke={same ? `var(--c${a.topic % 10})` : "var(--line2)"}
              strokeWidth={0.6 + (tie.weight / heavy) * 2}
              opacity={(tie.holds ? 0.5 : 0.12) * Math.min(faint(a.topic), faint(b.topic))}
            />
          );
        })}
        {answer.words.map((word, at) => {
          const said = `${word.name}: ${plural(word.texts, "text")}${word.topic >= 0 ? `, topic ${answer.topics[word.topic]!.name}` : ""}`;
          const colour = word.topic >= 0 ? `var(--c${word.topic % 10})` : "var(--ink3)";
          const act = () => onChoose(word.topic >= 0 && word.topic !== chosen ? word.topic : null);
          return (
            <g
              key={word.name}
              role="button"
              tabIndex={0}
              aria-label={said}
              opacity={faint(word.topic)}
              className="cursor-pointer outline-none focus-visible:underline"
              onClick={act}
              onDoubleClick={() => word.topic >= 0 && show(word.topic)}
              onKeyDown={(event) => {
                if (event.key === "Enter" || event.key === " ") {
                  event.preventDefault();
                  act();
                } else if (event.key === "Delete") onLeave(word.name);
              }}
              onContextMenu={(event) => {
                event.preventDefault();
                onLeave(word.name);
              }}
            >
              <title>{`${said}. Right click or Delete leaves it out.`}</title>
              <circle cx={x(at)} cy={y(at)} r={2.5 + Math.sqrt(word.texts / most) * 5} fill={colour} />
              {(named.has(at) || (chosen !== null && word.topic === chosen)) && (
                <text
                  x={x(at)}
                  y={y(at) - 6 - Math.sqrt(word.texts / most) * 4}
                  textAnchor="middle"
                  fontSize={size(at)}
                  fontWeight={word.betweenness > 0.1 ? 700 : 500}
                  fill="var(--ink)"
                  stroke="var(--sheet)"
                  strokeWidth={3}
                  paintOrder="stroke"
                >
                  {word.name}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <p className="mt-1.5 text-ink2">
        The larger, the more texts. A click shows one topic; a right click (or Delete) leaves a word out and
        computes again. Words in bold connect most others (betweenness). Faint lines are no stronger than
        between shuffled words.
      </p>
    </div>
  );
}

/** Words whose names do not lie over a more frequent one. */
function apart(answer: NetworkAnswer, width: number): Set<number> {
  const order = answer.words
    .map((_, at) => at)
    .sort((a, b) => answer.words[b]!.texts - answer.words[a]!.texts);
  const boxes: Box[] = [];
  const out = new Set<number>();
  for (const at of order) {
    const word = answer.words[at]!;
    const [cx, cy] = [word.x * (width - 92), word.y * (HEIGHT - 48)];
    const half = word.name.length * 3.9;
    const box: Box = [cx - half, cy - 19, cx + half, cy - 3];
    if (!apartFrom(box, boxes)) continue;
    boxes.push(box);
    out.add(at);
  }
  return out;
}
