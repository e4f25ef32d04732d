import { date } from "./numbers";
import { type CodePoint, toUtf16 } from "./offsets";

interface From {
  source: string | null;
  date: string | null;
  title: string;
  body: string;
}

/** Where words of a text are from that begin at a code point: "Hill Farmer, 3 June 2031, Nine pages, paragraph 2". */
export function originOf(text: From | null, start: number): string {
  if (!text) return "";
  const before = text.body.slice(0, toUtf16(text.body, [start as CodePoint])[0]);
  const paragraph =
    before
      .split("\n")
      .slice(0, -1)
      .filter((line) => line.trim()).length + 1;
  return [text.source, date(text.date), text.title, `paragraph ${paragraph}`].filter(Boolean).join(", ");
}
