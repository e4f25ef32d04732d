import { useQuery } from "@tanstack/react-query";
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useLocation, useNavigate, useParams } from "react-router";
import { api, data } from "../../api/client";
import {
  type Code,
  type Passage,
  useChangePassage,
  useCode,
  useCodebook,
  usePassages,
  useRecent,
  useTakeOff,
} from "../../data/coding";
import { marked as markedOf, ofDictionary } from "../../data/comparison";
import { keys } from "../../data/keys";
import {
  type Paraphrase,
  useNoteChanges,
  useOthersNotes,
  useParaphraseChanges,
  useParaphrases,
} from "../../data/notes";
import { idByNow } from "../../data/passageids";
import { useAddress, useProjectId, useSummary } from "../../data/project";
import { chosenStretch, type Stretch, trimmed } from "../../lib/chosen";
import type { Interval } from "../../lib/marks";
import { toCodePoint } from "../../lib/offsets";
import { originOf } from "../../lib/origin";
import { forgetReadPlace, useReadPlace } from "../../lib/readplace";
import { Button, Failure, Waiting } from "../../parts/controls";
import { FindInText } from "../../parts/findintext";
import { Steps } from "../../parts/steps";
import { WaitingRows } from "../../parts/waitingrows";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { Title } from "../corpus/reader";
import { Aim } from "./atwords";
import { type Asked, AtWork } from "./atwork";
import { Cards } from "./cards";
import { codeDragged } from "./drag";
import { FirstText } from "./firsttext";
import { Handles } from "./handles";
import { CodingHead } from "./head";
import { useKeys } from "./keys";
import { LostPassages } from "./lost";
import { ALL_SHOWN, isShown, MarksMenu, type Shown } from "./marks";
import type { NewCode } from "./newcode";
import { CodedPage } from "./page";
import { CodebookPanel, toggled } from "./panel";
import { Progress, SampleDialog } from "./progress";
import { useTouchedWords } from "./touched";

/** Read and code: the codebook, a text with its marks, and cards beside it. */
export function Read() {
  const text_id = Number(useParams().textId);
  return text_id ? <Text key={text_id} textId={text_id} /> : <FirstText />;
}

function Text({ textId }: { textId: number }) {
  const project_id = useProjectId();
  const path = { path: { project_id, text_id: textId } };
  const summary = useSummary().data;
  const revision = summary?.revision;
  const { shown } = useEvidence();
  const [hits] = useAddress("hits", "");
  // hits of the open evidence, or of a dictionary that was chosen
  const marked = useMemo(() => {
    if (shown) return { marked: markedOf(shown) };
    return hits ? { marked: JSON.stringify({ target: ofDictionary(Number(hits), []).target }) } : {};
  }, [shown, hits]);
  const text = useQuery({
    queryKey: keys.of(project_id, "text", textId, revision, marked),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/texts/{text_id}", { params: { ...path, query: marked } })),
    placeholderData: (before) => (before?.id === textId ? before : undefined),
  });
  const beside = useQuery({
    queryKey: keys.of(project_id, "beside", textId, revision),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/texts/{text_id}/beside", { params: path })),
  });
  const found = usePassages(textId);
  const navigate = useNavigate();
  const { search } = useLocation();
  useEffect(() => {
    if (text.isError) forgetReadPlace(project_id);
  }, [project_id, text.isError]);
  if (text.error)
    return (
      <div className="flex h-full flex-col">
        <CodingHead />
        <div className="p-6">
          <Failure error={text.error} />
          <Button
            className="mt-3"
            onClick={() => void navigate(`/projects/${project_id}/coding/read${search}`)}
          >
            Read another text
          </Button>
        </div>
      </div>
    );
  return (
    <Desk
      textId={textId}
      text={text.data ?? null}
      beside={beside.data ?? null}
      passages={found.data?.passages ?? NONE}
      writes={summary?.role !== "reader"}
    />
  );
}

const NONE: readonly Passage[] = [];
const NO_PARAPHRASES: readonly Paraphrase[] = [];

function Desk({
  textId,
  text,
  beside,
  passages,
  writes,
}: {
  textId: number;
  text: Parameters<typeof CodedPage>[0]["text"] | null;
  beside: Parameters<typeof CodedPage>[0]["beside"];
  passages: readonly Passage[];
  writes: boolean;
}) {
  const project_id = useProjectId();
  const book = useCodebook();
  const recent = useRecent();
  const [paragraph] = useAddress("paragraph", "");
  const [hits, setHits] = useAddress("hits", "");
  const [marks, setMarks] = useState<Shown>(ALL_SHOWN);
  const [sampling, setSampling] = useState(false);
  const [chosen, setChosen] = useState<Stretch | null>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const [picked, setActive] = useState<number | null>(null);
  const active = picked === null ? null : idByNow(picked);
  const [lit, setLit] = useState<number | null>(null);
  const page = useRef<HTMLDivElement>(null);
  const dragged = useRef(false);
  const me =
    useQuery({ queryKey: keys.me, queryFn: () => data(api.GET("/api/v1/me")) }).data?.full_name ?? "";
  const code = useCode(textId, me);
  const change = useChangePassage(textId);
  const off = useTakeOff(textId);
  const body = text?.body ?? "";
  const paraphrases = useParaphrases({ text_id: textId, most: 300 }).data?.paraphrases;
  const { make: notesMade } = useNoteChanges();
  const { make: paraphrased } = useParaphraseChanges();
  useOthersNotes();
  useReadPlace(project_id, textId, text !== null, paragraph !== "");
  const shown = useMemo(
    () => passages.filter((one) => isShown(one, book.byId.get(one.code_id), marks)),
    [passages, marks, book.byId],
  );
  // the marks in the text come first; counts and cards follow in the next moment
  const counted = useDeferredValue(passages);
  const carded = useDeferredValue(shown);
  const here = useMemo(() => {
    const out = new Map<number, number>();
    for (const one of counted) out.set(one.code_id, (out.get(one.code_id) ?? 0) + 1);
    return out;
  }, [counted]);
  const focus = () => page.current?.focus({ preventScroll: true });

  const give = (codes: readonly Code[], another = false) => {
    if (!chosen || !writes) return;
    code.mutate({ stretch: chosen, codes: codes.map((one) => one.id) });
    recent.note(codes.map((one) => one.id));
    if (!another) finish();
  };
  const makeAndGive = (fresh: NewCode, another = false) => {
    if (!chosen) return;
    const { start, end } = chosen;
    code.mutate(
      { stretch: chosen, codes: [], fresh: { ...fresh, name: fresh.name.slice(0, 120) } },
      {
        onSuccess: (stored) => {
          const mine = stored.passages.filter((one) => one.mine && one.start === start && one.end === end);
          const made = mine.sort((a, b) => b.id - a.id)[0];
          if (made) recent.note([made.code_id]);
        },
      },
    );
    if (!another) finish();
  };
  const finish = () => {
    setAsked(null);
    setChosen(null);
    focus();
  };
  const choose = useCallback(
    (stretch: Interval | null, first = "") => {
      if (!stretch) return setChosen(null);
      const [start, end] = [toCodePoint(body, stretch.start), toCodePoint(body, stretch.end)];
      setChosen({ start, end, words: body.slice(stretch.start, stretch.end) });
      setActive(null);
      setAsked(writes && first ? { kind: "code", first } : null);
    },
    [body, writes],
  );
  const released = (touched = false) => {
    const stretch = trimmed(chosenStretch(body));
    if (!stretch) return;
    // the click that ends a drag opens no card of a passage that lies under it
    dragged.current = !touched;
    if (!touched) window.getSelection()?.removeAllRanges();
    setChosen(stretch);
    setActive(null);
    setAsked(writes ? { kind: "code", first: "" } : null);
  };
  const clicked = (event: React.MouseEvent) => {
    if (dragged.current) {
      dragged.current = false;
      return;
    }
    const ids = (event.target as HTMLElement).closest<HTMLElement>("[data-passages]")?.dataset.passages;
    if (!window.getSelection()?.isCollapsed) return;
    if (!ids) {
      setActive(null);
      if (!asked) setChosen(null);
      return;
    }
    // of several passages under one word each click opens the next
    const all = ids.split(" ").map(Number);
    setActive(all[(all.indexOf(active ?? Number.NaN) + 1) % all.length]!);
    setChosen(null);
  };
  useTouchedWords(page, () => released(true));
  const resize = (passage: Passage) => (to: Interval) =>
    change.mutate({
      passage,
      values: { start: toCodePoint(body, to.start), end: toCodePoint(body, to.end) },
    });
  const activePassage = shown.find((one) => one.id === active) ?? null;
  const onKey = useKeys({
    body,
    chosen,
    active: activePassage,
    passages: shown,
    lit,
    writes,
    codes: book.codes,
    recent: recent.ids,
    choose,
    onActive: setActive,
    // the field must be there before the next letter is typed
    onAsk: (first) => flushSync(() => setAsked({ kind: "code", first })),
    onGive: (one) => give([one]),
    onTakeOff: (passage) => {
      setActive(null);
      off.mutate(passage);
    },
    onResize: (passage, to) => resize(passage)(to),
  });
  return (
    <div className="flex h-full flex-col">
      <CodingHead>
        <LostPassages textId={textId} chosen={chosen} paraphrases={paraphrases} writes={writes} />
        <MarksMenu shown={marks} hits={hits} onShow={setMarks} onHits={setHits} />
        <Progress textId={textId} writes={writes} />
        {writes && (
          <Button look="ghost" onClick={() => setSampling(true)}>
            Sample…
          </Button>
        )}
        <About topic="coding">
          Choose words with the mouse or the arrow keys, type, and Enter puts them under a code. Marks are
          lines in the colour of their code; where more than six meet, a thick dark one. Cards name code and
          coder.
        </About>
      </CodingHead>
      {sampling && <SampleDialog open onClose={() => setSampling(false)} />}
      <div className="flex min-h-0 flex-1">
        <CodebookPanel
          here={here}
          recent={recent.ids}
          chosen={lit}
          hidden={marks.codes}
          onHide={(id) => setMarks({ ...marks, codes: toggled(marks.codes, id) })}
          onCode={(one) => {
            if (chosen && writes) give([one]);
            else setLit(lit === one.id ? null : one.id);
          }}
        />
        <div data-scroller className="min-w-0 flex-1 overflow-auto bg-sheet pt-3 pb-24">
          {text && (
            <div className="sticky top-0 z-30 h-0">
              <div className="absolute top-0 left-4 font-sans text-[13px]">
                <FindInText page={page} body={body} paragraphs={text.paragraphs.length} />
              </div>
            </div>
          )}
          <div className="mx-auto flex w-max max-w-full gap-7 pr-4 pl-12">
            <article className="w-[600px] min-w-[380px] shrink">
              <Steps textId={textId} base={`/projects/${project_id}/coding/read`} />
              {!text && <Waiting what="Opening the text" />}
              {text && <Title text={text} />}
            </article>
            <div className="w-[232px] shrink-0" />
          </div>
          {text && (
            <div className="mx-auto flex w-max max-w-full gap-7 pr-4 pl-12">
              <article className="relative w-[600px] min-w-[380px] shrink">
                <Aim paragraph={Number(paragraph) || null} page={page} />
                <div
                  ref={page}
                  role="document"
                  aria-label="Text to code"
                  // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
                  tabIndex={0}
                  data-testid="body"
                  onMouseDown={() => {
                    dragged.current = false;
                  }}
                  onMouseUp={() => released()}
                  onClick={clicked}
                  onKeyDown={onKey}
                  onDragOver={(event) => event.preventDefault()}
                  onDrop={(event) => {
                    const dropped = book.byId.get(codeDragged(event) ?? 0);
                    if (dropped && chosen) give([dropped]);
                  }}
                  className="relative font-serif text-[17px] leading-[1.75] outline-none! before:absolute before:top-0 before:bottom-0 before:-left-10 before:w-[2px] focus-visible:before:bg-bottle"
                >
                  <CodedPage
                    page={page}
                    text={text}
                    beside={beside}
                    passages={shown}
                    codes={book.byId}
                    chosen={chosen}
                    active={active}
                    paraphrases={paraphrases ?? NO_PARAPHRASES}
                    paragraph={Number(paragraph) || null}
                  />
                </div>
                {activePassage && writes && (
                  <Handles page={page} body={body} passage={activePassage} onResize={resize(activePassage)} />
                )}
                {asked && (
                  <AtWork
                    key={asked.kind}
                    textId={textId}
                    page={page}
                    asked={asked}
                    chosen={chosen}
                    recent={recent.ids}
                    origin={(start) => originOf(text, start, beside?.places)}
                    onAsk={(next) => {
                      setAsked(next);
                      if (!next) focus();
                    }}
                    onGive={(one, another) => give([one], another)}
                    onMake={makeAndGive}
                    onRecode={(passage, to) => {
                      change.mutate({ passage, values: { code_id: to.id } });
                      setAsked(null);
                      focus();
                    }}
                    onDone={finish}
                  />
                )}
              </article>
              <div className="absolute right-4 z-10 w-[220px] bg-sheet font-sans text-[13px]">
                <WaitingRows of={notesMade} />
                <WaitingRows of={paraphrased} />
              </div>
              <Cards
                page={page}
                passages={carded}
                notes={beside?.notes ?? []}
                paraphrases={paraphrases ?? NO_PARAPHRASES}
                codes={book.byId}
                active={active}
                writes={writes}
                onActive={setActive}
                onTakeOff={(passage) => {
                  setActive(null);
                  off.mutate(passage);
                }}
                onRecode={(passage) => setAsked({ kind: "other", passage })}
                onNote={(passage) => setAsked({ kind: "note", passage })}
                onChange={(passage, values) => change.mutateAsync({ passage, values })}
              />
            </div>
          )}
        </div>
      </div>
    </div>
  );
}
