import { mergeAttributes, Node } from "@tiptap/core";
import { type NodeViewProps, NodeViewWrapper, ReactNodeViewRenderer } from "@tiptap/react";
import { createContext, useContext } from "react";
import { Link, useLocation } from "react-router";
import type { Schema } from "../../api/client";
import { useProjectId } from "../../data/project";
import { originWords } from "../../lib/origin";

type Quote = Schema["QuotePublic"];

/** The quotes of the note that is open, as their texts have them now. */
export const Quotes = createContext<ReadonlyMap<number, Quote>>(new Map());

/** A quote within a note: its words come from the text, here stands only which quote it is. */
export const QuoteNode = Node.create({
  name: "quote",
  group: "inline",
  inline: true,
  atom: true,
  addAttributes: () => ({ id: { default: null } }),
  parseHTML: () => [{ tag: "span[data-quote]" }],
  renderHTML: ({ HTMLAttributes }) => [
    "span",
    mergeAttributes({ "data-quote": String(HTMLAttributes.id) }, HTMLAttributes),
  ],
  addNodeView: () => ReactNodeViewRenderer(QuoteView),
  markdownTokenName: "quote",
  markdownTokenizer: {
    name: "quote",
    level: "inline",
    start: (src: string) => src.search(/\[[^\]]*\]\(quote:\d+\)/),
    tokenize: (src: string) => {
      const found = /^\[[^\]]*\]\(quote:(\d+)\)/.exec(src);
      return found ? { type: "quote", raw: found[0], id: Number(found[1]) } : undefined;
    },
  },
  parseMarkdown: (token) => ({ type: "quote", attrs: { id: (token as unknown as { id: number }).id } }),
  renderMarkdown: (node) => `[quote](quote:${node.attrs?.id})`,
});

function QuoteView({ node, selected }: NodeViewProps) {
  const quote = useContext(Quotes).get(Number(node.attrs.id));
  const project = useProjectId();
  const { search } = useLocation();
  const kept = new URLSearchParams(search);
  if (quote?.paragraph) kept.set("paragraph", String(quote.paragraph));
  const origin = quote ? originWords(quote) : "";
  return (
    <NodeViewWrapper
      as="span"
      data-testid="quote"
      className={`my-1 block border-l-[3px] border-straw pl-2.5 ${selected ? "bg-tint" : ""}`}
    >
      <span className="block font-serif text-[15.5px] leading-[1.5] whitespace-pre-line">
        {quote ? quote.words : "This quote is no longer there."}
      </span>
      {quote && (
        <span className="block text-[11.5px] text-ink2">
          {quote.text_id ? (
            <Link
              to={`/projects/${project}/coding/read/${quote.text_id}?${kept}`}
              className="text-bottle hover:underline"
            >
              {origin}
            </Link>
          ) : (
            "The text is no longer in the corpus"
          )}
          {quote.gone && quote.text_id && ", these words are no longer in the text"}
        </span>
      )}
    </NodeViewWrapper>
  );
}
