import type { Schema } from "../../api/client";

/** What a table says in plain words; many sentences are scrolled, so that what they speak of stays in view. */
export function Statements({
  statements,
  testid = "statements",
}: {
  statements: readonly Schema["StatementPublic"][];
  testid?: string;
}) {
  return (
    <section
      className="mb-3 max-h-[158px] overflow-auto rounded-r-[5px] border-l-[3px] border-bottle bg-tint px-3 py-2"
      data-testid={testid}
      aria-label="What it says"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
    >
      {statements.map((one, at) => (
        <p key={at} className={one.kind === "warning" ? "text-rust" : one.kind === "note" ? "text-ink2" : ""}>
          <Strong text={one.text} parts={one.strong} />
        </p>
      ))}
    </section>
  );
}

function Strong({ text, parts }: { text: string; parts: readonly string[] }) {
  if (!parts.length) return <>{text}</>;
  const escaped = parts.map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return (
    <>
      {text
        .split(new RegExp(`(${escaped.join("|")})`))
        .map((part, at) => (parts.includes(part) ? <b key={at}>{part}</b> : part))}
    </>
  );
}
