import type { Part, Piece } from "../../data/reports";

/** How pieces are called in the list of a report. */
export const KINDS: Record<Piece["kind"], string> = {
  heading: "Heading",
  words: "Text",
  finding: "Finding",
  note: "Note",
  quotes: "Quotes",
  overview: "The texts at a glance",
  dictionary: "Dictionary",
  codebook: "Codebook",
  quality: "Precision and agreement",
  method: "How it was made",
};

/** One line for a piece: what it says, as far as it is known. */
export function nameOf(part: Part): string {
  const { piece, blocks } = part;
  if (!piece) return blocks.find((one) => one.kind === "heading")?.words ?? "Part of a frozen report";
  if (piece.kind === "heading") return piece.words || "Untitled";
  if (piece.kind === "words")
    return (
      piece.body
        .replace(/[#*_>\-[\]]/g, "")
        .trim()
        .slice(0, 80) || "Empty text"
    );
  const heading = blocks.find((one) => one.kind === "heading");
  if (heading?.kind === "heading" && (piece.kind === "finding" || piece.kind === "note"))
    return heading.words;
  if (piece.kind === "quotes") {
    const quotes = blocks.filter((one) => one.kind === "quote").length + part.more;
    return `${quotes} ${quotes === 1 ? "quote" : "quotes"}`;
  }
  return KINDS[piece.kind];
}
