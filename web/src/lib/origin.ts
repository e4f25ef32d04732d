import type { Schema } from "../api/client";
import { date } from "./numbers";
import { type CodePoint, toUtf16 } from "./offsets";

interface From {
  source: string | null;
  date: string | null;
  title: string;
}
type Standing = Schema["Standing"];
/** Where words are from: their text, who speaks there, and the paragraph (null where the words are gone). */
interface Origin extends From {
  paragraph: number | null;
  standing: Standing;
}
const NOWHERE: Standing = { speaker: "", page: "", time: "" };

/** The same in one line: "Rosa Thirl, in: Hill Farmer, 3 June 2031, Nine pages, p. 4, paragraph 2". */
export function originWords(one: Origin): string {
  const where = [one.source, date(one.date), one.title, ...place(one)].filter(Boolean).join(", ");
  return one.standing.speaker ? `${one.standing.speaker}, in: ${where}` : where;
}

/** The short form beside a title: who speaks, source, date, paragraph. */
export function shortOrigin(one: Omit<Origin, "title">): string {
  const paragraph = one.paragraph ? `¶${one.paragraph}` : "";
  return [one.standing.speaker, one.source, date(one.date), one.standing.time, paragraph]
    .filter(Boolean)
    .join(", ");
}

function place({ standing, paragraph }: Pick<Origin, "standing" | "paragraph">): string[] {
  return [
    standing.page ? `p. ${standing.page}` : "",
    standing.time,
    paragraph ? `paragraph ${paragraph}` : "",
  ];
}

/** Where words of a text are from that begin at a code point; ``places`` say who speaks and on which page. */
export function originOf(
  text: (From & { body: string }) | null,
  start: number,
  places: readonly Schema["PlacePublic"][] = [],
): string {
  if (!text) return "";
  const before = text.body.slice(0, toUtf16(text.body, [start as CodePoint])[0]);
  const paragraph =
    before
      .split("\n")
      .slice(0, -1)
      .filter((line) => line.trim()).length + 1;
  return originWords({ ...text, paragraph, standing: standingAt(places, start) });
}

function standingAt(places: readonly Schema["PlacePublic"][], start: number): Standing {
  const last = (kind: string) =>
    places.findLast((one) => one.kind === kind && one.start <= start)?.label ?? "";
  return places.length ? { speaker: last("turn"), page: last("page"), time: last("time") } : NOWHERE;
}
