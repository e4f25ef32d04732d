import { useState } from "react";
import { Link, useLocation } from "react-router";
import { useProjectId } from "../../data/project";
import type { Block, Part } from "../../data/reports";
import { along } from "../../lib/scope";

const HEADS = ["", "text-[19px] mt-2", "text-[16px] mt-1", "text-[14.5px]", "text-[13.5px]"];
const ROWS = 30;

/** What a piece of a report comes to, as it is printed; findings and quotes lead back to where they are from. */
export function Blocks({ report, part }: { report: number; part: Part }) {
  return (
    <>
      {part.blocks.map((block, at) => (
        <One key={at} report={report} part={part} block={block} label={part.labels[at] ?? ""} />
      ))}
      {part.more > 0 && (
        <p className="mt-2 text-ink2">{part.more.toLocaleString("en")} more stand in the files.</p>
      )}
    </>
  );
}

function One({ report, part, block, label }: { report: number; part: Part; block: Block; label: string }) {
  const project = useProjectId();
  const { search } = useLocation();
  if (block.kind === "heading") {
    const Head = `h${Math.min(block.level + 1, 5)}` as "h2";
    return <Head className={`mb-1.5 font-[650] ${HEADS[block.level] ?? ""}`}>{block.words}</Head>;
  }
  if (block.kind === "prose")
    return (
      <div
        className="prose-help my-1.5 font-serif text-[15px] leading-[1.5]"
        // biome-ignore lint/security/noDangerouslySetInnerHtml: made of Markdown without HTML by the server
        dangerouslySetInnerHTML={{ __html: block.html }}
      />
    );
  if (block.kind === "quote")
    return (
      <blockquote className="my-2.5 border-l-[3px] border-straw pl-3 font-serif text-[15px] leading-[1.5]">
        <p className="whitespace-pre-line">{block.words}</p>
        <footer className="mt-0.5 font-sans text-[12px] text-ink2">
          {block.text_id ? (
            <Link
              to={`/projects/${project}/coding/read/${block.text_id}${along(search, { paragraph: block.paragraph ?? 1 })}`}
              className="hover:underline"
            >
              {block.origin}
            </Link>
          ) : (
            block.origin
          )}
        </footer>
      </blockquote>
    );
  if (block.kind === "grid") return <Grid block={block} label={label} />;
  if (block.kind === "figure") return <Figure report={report} part={part} block={block} label={label} />;
  return <p className="my-2 text-rust">{block.words}</p>;
}

function Figure({
  report,
  part,
  block,
  label,
}: {
  report: number;
  part: Part;
  block: Extract<Block, { kind: "figure" }>;
  label: string;
}) {
  const project = useProjectId();
  const { search } = useLocation();
  const [failed, setFailed] = useState("");
  return (
    <figure className="my-3">
      {failed === block.drawing ? (
        <p className="text-rust">This picture could not be drawn.</p>
      ) : (
        <img
          // its name is another one when there is something else to draw
          key={block.drawing}
          src={`/api/v1/projects/${project}/reports/${report}/pictures/${part.id}?drawing=${block.drawing}`}
          alt={block.caption}
          loading="lazy"
          onError={() => setFailed(block.drawing)}
          className="min-h-[180px] w-full rounded bg-white"
        />
      )}
      <figcaption className="mt-1 font-semibold">
        {label}. {block.caption}{" "}
        <Link
          to={`/projects/${project}/notebook/findings${along(search, { finding: block.finding_id })}`}
          className="font-normal text-bottle hover:underline"
        >
          open the finding
        </Link>
      </figcaption>
      <p className="text-[12px] text-ink2">{block.note}</p>
    </figure>
  );
}

function Grid({ block, label }: { block: Extract<Block, { kind: "grid" }>; label: string }) {
  const [all, setAll] = useState(false);
  const rows = all ? block.rows : block.rows.slice(0, ROWS);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
    <section className="my-3 overflow-x-auto" tabIndex={0} aria-label={`${label}. ${block.caption}`}>
      <table className="w-full border-collapse text-[12.5px]">
        <caption className="pb-1 text-left font-semibold">
          {label}. {block.caption}
        </caption>
        <thead>
          <tr>
            {block.columns.map((column, at) => (
              <th
                key={at}
                scope="col"
                className={`border-b border-line2 py-1 pr-3 align-bottom font-semibold ${column.number ? "text-right" : "text-left"}`}
              >
                {column.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            <tr key={at}>
              {row.map((cell, place) => (
                <td
                  key={place}
                  className={`border-b border-line py-1 pr-3 align-top ${block.columns[place]?.number ? "text-right tabular-nums" : ""}`}
                >
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {block.rows.length > rows.length && (
        <button
          type="button"
          onClick={() => setAll(true)}
          className="pt-1 font-semibold text-bottle hover:underline"
        >
          Show all {block.rows.length.toLocaleString("en")} rows
        </button>
      )}
      {block.note && <p className="pt-1 text-[12px] text-ink2">{block.note}</p>}
    </section>
  );
}
