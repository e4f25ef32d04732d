import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { date, plural } from "../../lib/numbers";
import { stretches } from "../../lib/offsets";
import { Button, Failure, Waiting } from "../../parts/controls";
import { useEvidence } from "../../shell/evidence";
import { useAddress, useProjectId, useScope, useSummary } from "../../shell/project";
import { Value } from "./table";

/** A text to read: numbered paragraphs, the terms of the open evidence in straw, variables beside it. */
export function Reader() {
  const project_id = useProjectId();
  const text_id = Number(useParams().textId);
  const [paragraph] = useAddress("paragraph", "");
  const marked = useMarkedTerms();
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: ["project", project_id, "text", text_id, revision, marked],
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/texts/{text_id}", { params: { path: { project_id, text_id }, query: { mark: marked } } })),
    placeholderData: (before) => (before?.id === text_id ? before : undefined),
  });
  return (
    <div className="flex h-full">
      <div className="min-w-0 flex-1 overflow-auto bg-sheet px-8 pt-4 pb-16">
        <div className="mx-auto max-w-[640px]">
          <Steps textId={text_id} />
          {found.isPending && <Waiting what="Opening the text" />}
          {found.error && <Failure error={found.error} />}
          {found.data && <Page text={found.data} paragraph={Number(paragraph) || null} />}
        </div>
      </div>
      {found.data && <Beside text={found.data} />}
    </div>
  );
}

/** Terms of the evidence panel, so that its hits show in the text. */
function useMarkedTerms(): string[] {
  const { shown } = useEvidence();
  const project_id = useProjectId();
  const dictionary_id = shown?.request.dictionary_id ?? null;
  const tree = useQuery({
    queryKey: ["project", project_id, "dictionary", dictionary_id],
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", { params: { path: { project_id, dictionary_id: dictionary_id! } } })),
    enabled: dictionary_id !== null,
  });
  return useMemo(() => {
    if (!shown) return [];
    const categories = tree.data?.categories ?? [];
    const inside = new Set<number>();
    for (const category of categories) {
      if (category.id === shown.request.category_id || (category.parent_id !== null && inside.has(category.parent_id))) inside.add(category.id);
    }
    const own = (shown.request.terms ?? []).map((term) => term.source);
    return [...own, ...categories.filter((c) => inside.has(c.id)).flatMap((c) => c.terms.map((t) => t.source))].slice(0, 50);
  }, [shown, tree.data]);
}

function Steps({ textId }: { textId: number }) {
  const project_id = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const { scope } = useScope();
  const [sort] = useAddress("sort", "date");
  const [down] = useAddress("down", "");
  const around = useQuery({
    queryKey: ["project", project_id, "around", textId, scope, sort, down],
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/{text_id}/around", {
          params: { path: { project_id, text_id: textId } },
          body: { scope: [...scope], sort, descending: down === "1" },
        }),
      ),
  });
  const previous = around.data?.previous ?? null;
  const next = around.data?.next ?? null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.closest("input, textarea, select")) return;
      const to = event.key === "[" ? previous : event.key === "]" ? next : null;
      if (to !== null) navigate(`/projects/${project_id}/corpus/${to}${search}`);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const go = (id: number | null) => id !== null && navigate(`/projects/${project_id}/corpus/${id}${withoutParagraph(search)}`);
  return (
    <div className="mb-4 flex items-center gap-2 text-ink2">
      <Link to={`/projects/${project_id}/corpus${withoutParagraph(search)}`} className="font-semibold text-bottle hover:underline">All texts</Link>
      <span className="ml-auto">{around.data?.position ? `Text ${around.data.position.toLocaleString("en-GB")} of ${around.data.total.toLocaleString("en-GB")}` : "Outside the scope"}</span>
      <Button disabled={previous === null} onClick={() => go(previous)}>‹ Previous</Button>
      <Button disabled={next === null} onClick={() => go(next)}>Next ›</Button>
    </div>
  );
}

function withoutParagraph(search: string): string {
  const next = new URLSearchParams(search);
  next.delete("paragraph");
  return next.size ? `?${next}` : "";
}

function Page({ text, paragraph }: { text: Schema["TextPublic"]; paragraph: number | null }) {
  const aim = useRef<HTMLParagraphElement>(null);
  useEffect(() => aim.current?.scrollIntoView({ block: "center" }), [text.id, paragraph]);
  const starts = text.paragraphs;
  return (
    <article>
      <div className="text-ink2">{[text.source, date(text.date), plural(text.words, "word")].filter(Boolean).join(", ")}</div>
      <h1 className="mt-1.5 mb-3.5 font-serif text-[26px] leading-[1.2] font-semibold">{text.title}</h1>
      <div className="relative font-serif text-[17px] leading-[1.6]">
        {starts.map((start, at) => (
          <p key={start} ref={paragraph === at + 1 ? aim : undefined} className={`relative mb-3 whitespace-pre-line ${paragraph === at + 1 ? "rounded bg-tint" : ""}`}>
            <span aria-hidden className="absolute -left-7 font-sans text-[11px] text-ink3 select-none">{at + 1}</span>
            {stretches(text.body, text.marks, at === 0 ? 0 : start, starts[at + 1] ?? Infinity).map((part, i) =>
              part.marked ? <mark key={i}>{part.text}</mark> : <span key={i}>{at === starts.length - 1 ? part.text : part.text.replace(/\n+$/, "")}</span>,
            )}
          </p>
        ))}
        {!starts.length && <p className="text-ink2">{text.body}</p>}
      </div>
    </article>
  );
}

function Beside({ text }: { text: Schema["TextPublic"] }) {
  const given = text.values.filter((one) => one.value !== null && !(Array.isArray(one.value) && !one.value.length));
  const without = text.values.length - given.length;
  return (
    <section className="w-[226px] shrink-0 overflow-auto border-l border-line2 bg-wash px-4 py-4">
      <h2 className="mb-2 text-[12px] font-bold text-ink2">About this text</h2>
      <dl>
        {[["Source", text.source] as const, ["Date", date(text.date)] as const, ...given.map((one) => [one.name, one.value] as const)].map(([name, value], at) => (
          <div key={at} className="mb-2.5">
            <dt className="text-[11.5px] text-ink2">{name}</dt>
            <dd><Value value={value || null} /></dd>
          </div>
        ))}
        <div className="mb-2.5">
          <dt className="text-[11.5px] text-ink2">Came from</dt>
          <dd className="break-words">{text.origin}</dd>
        </div>
        {without > 0 && <p className="text-ink2">{plural(without, "variable")} without a value here.</p>}
      </dl>
    </section>
  );
}
