import type { ReactNode } from "react";
import type { Schema } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { useFields } from "../../data/project";
import { Button, Input, Select } from "../../parts/controls";

export type Question = Schema["PassageQuestion"];
type Beside = Schema["BesideAsked"];

export const ANY: Question = {
  codes: [],
  coders: [],
  strength: 0,
  by: "",
  beside: [],
  text_id: null,
  group: "",
  sort: "text",
};

const RELATIONS: { value: string; label: string }[] = [
  { value: "overlapping", label: "that overlap with" },
  { value: "inside", label: "that lie within" },
  { value: "around", label: "that hold" },
  { value: "near", label: "that are near" },
  { value: "followed by", label: "that come before" },
  { value: "after", label: "that come after" },
  { value: "in one text", label: "in texts with" },
];
const STRENGTHS = [
  { value: "0", label: "of any strength" },
  ...[1, 2, 3, 4, 5].map((one) => ({ value: String(one), label: `of strength ${one} or more` })),
];

const SORTS = [
  { value: "text", label: "as the texts" },
  { value: "date", label: "by date" },
  { value: "length", label: "longest first" },
  { value: "strength", label: "strongest first" },
  { value: "coder", label: "by coder" },
];

/** A question to the passages as a sentence; its words are what is chosen. */
export function QuestionLine({
  question,
  onAsk,
  children,
}: {
  question: Question;
  onAsk: (question: Question) => void;
  children?: ReactNode;
}) {
  const book = useCodebook();
  const fields = useFields();
  const ask = (part: Partial<Question>) => onAsk({ ...question, ...part });
  const choices = book.codes.map((one) => ({
    value: String(one.id),
    label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
  }));
  const setBeside = (at: number, part: Partial<Beside>) =>
    ask({ beside: question.beside.map((one, place) => (place === at ? { ...one, ...part } : one)) });
  return (
    <div
      className="flex flex-wrap items-center gap-x-2 gap-y-1.5 border-b border-line bg-sheet px-4 py-2.5"
      data-testid="question"
    >
      <span>Passages of</span>
      {question.codes.map((id) => (
        <span key={id} className="rounded border border-line2 bg-wash px-1.5 py-px">
          {book.byId.get(id)?.name ?? "a deleted code"}{" "}
          <button
            type="button"
            aria-label={`Without ${book.byId.get(id)?.name}`}
            className="text-ink2"
            onClick={() => ask({ codes: question.codes.filter((one) => one !== id) })}
          >
            ×
          </button>
        </span>
      ))}
      <Select
        aria-label="Code asked for"
        value=""
        choices={[
          { value: "", label: question.codes.length ? "or…" : "any code" },
          ...choices.filter(({ value }) => !question.codes.includes(Number(value))),
        ]}
        onChange={(value) => value && ask({ codes: [...question.codes, Number(value)] })}
        className="w-auto! max-w-[170px]"
      />
      <span>by</span>
      <Select
        aria-label="Coder"
        value={String(question.coders[0] ?? "")}
        choices={[
          { value: "", label: "anybody" },
          ...(book.data?.coders ?? []).map((one) => ({
            value: String(one.id),
            label: one.me ? "you" : one.name,
          })),
        ]}
        onChange={(value) => ask({ coders: value ? [Number(value)] : [] })}
        className="w-auto!"
      />
      {(book.data?.coders ?? []).some((one) => one.id < 0) && (
        <Select
          aria-label="By hand or by a run"
          value={question.by ?? ""}
          choices={[
            { value: "", label: "by hand or by a run" },
            { value: "hand", label: "by hand" },
            { value: "run", label: "by a run" },
          ]}
          onChange={(by) => ask({ by: by as NonNullable<Question["by"]> })}
          className="w-auto!"
        />
      )}
      <Select
        aria-label="Strength"
        value={String(question.strength)}
        choices={STRENGTHS}
        onChange={(value) => ask({ strength: Number(value) })}
        className="w-auto!"
      />
      {question.beside.map((one, at) => (
        <span key={at} className="flex items-center gap-2 rounded border border-line px-1.5 py-0.5">
          <Select
            aria-label="With or without"
            value={one.without ? "without" : "with"}
            choices={[
              { value: "with", label: "only those" },
              { value: "without", label: "but none" },
            ]}
            onChange={(value) => setBeside(at, { without: value === "without" })}
            className="w-auto!"
          />
          <Select
            aria-label="How they lie"
            value={one.relation}
            choices={RELATIONS}
            onChange={(relation) => setBeside(at, { relation: relation as Beside["relation"] })}
            className="w-auto!"
          />
          {one.relation === "near" && (
            <>
              <span>within</span>
              <Input
                aria-label="How near"
                inputMode="numeric"
                value={String(one.within)}
                onChange={(event) =>
                  setBeside(at, { within: Math.min(Number(event.target.value.replace(/\D/g, "")), 10_000) })
                }
                className="w-[52px]!"
              />
              <Select
                aria-label="Words or paragraphs"
                value={one.unit}
                choices={[
                  { value: "words", label: "words of" },
                  { value: "paragraphs", label: "paragraphs of" },
                ]}
                onChange={(unit) => setBeside(at, { unit: unit as Beside["unit"] })}
                className="w-auto!"
              />
            </>
          )}
          <Select
            aria-label="Other code"
            value={String(one.codes[0] ?? "")}
            choices={[{ value: "", label: "choose a code" }, ...choices]}
            onChange={(value) => setBeside(at, { codes: value ? [Number(value)] : [] })}
            className="w-auto! max-w-[170px]"
          />
          <button
            type="button"
            aria-label="Remove this condition"
            className="text-ink2"
            onClick={() => ask({ beside: question.beside.filter((_, place) => place !== at) })}
          >
            ×
          </button>
        </span>
      ))}
      {question.beside.length < 10 && (
        <Button
          look="ghost"
          onClick={() =>
            ask({
              beside: [
                ...question.beside,
                { relation: "overlapping", codes: [], without: false, within: 10, unit: "words" },
              ],
            })
          }
        >
          + how they lie
        </Button>
      )}
      <span className="flex items-center gap-2">
        <span className="text-ink2">grouped</span>
        <Select
          aria-label="Grouped by"
          value={question.group}
          choices={[
            { value: "", label: "not at all" },
            { value: "code", label: "by code" },
            { value: "text", label: "by text" },
            ...fields
              .filter((one) => one.can_split && !["codes", "passages"].includes(one.key))
              .map((one) => ({ value: one.key, label: `by ${one.name.toLocaleLowerCase()}` })),
          ]}
          onChange={(group) => ask({ group })}
          className="w-auto! max-w-[150px]"
        />
      </span>
      <span className="flex items-center gap-2">
        <span className="text-ink2">sorted</span>
        <Select
          aria-label="Sorted by"
          value={question.sort ?? "text"}
          choices={SORTS}
          onChange={(sort) => ask({ sort: sort as NonNullable<Question["sort"]> })}
          className="w-auto!"
        />
      </span>
      {children}
    </div>
  );
}

/** What is sent: conditions that name no code yet ask for nothing. */
export function sent(question: Question): Question {
  return { ...question, beside: question.beside.filter((one) => one.codes.length) };
}
