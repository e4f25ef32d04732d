import { type ReactNode, useLayoutEffect, useRef, useState } from "react";
import type { Choice } from "./controls";

/** A word of a sentence that opens its choices. It is as wide as what is chosen. */
export function Word({
  label,
  value,
  choices,
  groups = [],
  onChange,
}: {
  label: string;
  value: string;
  choices: readonly Choice[];
  /** More choices under headings. */
  groups?: readonly { label: string; choices: readonly Choice[] }[];
  onChange: (value: string) => void;
}) {
  const all = [...choices, ...groups.flatMap((group) => group.choices)];
  const chosen = all.find((choice) => choice.value === value)?.label ?? "";
  const measure = useRef<HTMLSpanElement>(null);
  const [width, setWidth] = useState(80);
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured again when another word stands there
  useLayoutEffect(() => {
    setWidth((measure.current?.offsetWidth ?? 60) + 30);
  }, [chosen]);
  return (
    <span className="relative inline-block max-w-[340px] align-baseline">
      <span ref={measure} aria-hidden className="invisible absolute font-semibold whitespace-nowrap">
        {chosen}
      </span>
      <select
        aria-label={label}
        title={label}
        value={value}
        style={{ width }}
        onChange={(event) => onChange(event.target.value)}
        className="max-w-full cursor-pointer border-b-[1.5px] border-bottle bg-transparent font-semibold text-bottle hover:bg-tint"
      >
        {choices.map((choice) => (
          <Option key={choice.value} {...choice} />
        ))}
        {groups
          .filter((group) => group.choices.length)
          .map((group) => (
            <optgroup key={group.label} label={group.label}>
              {group.choices.map((choice) => (
                <Option key={choice.value} {...choice} />
              ))}
            </optgroup>
          ))}
      </select>
    </span>
  );
}

function Option({ value, label, disabled }: Choice) {
  return (
    <option value={value} disabled={disabled}>
      {label}
    </option>
  );
}

/** A sentence whose words are chosen. */
export function Sentence({ label, children }: { label: string; children: ReactNode }) {
  return (
    <section aria-label={label} className="flex flex-wrap items-baseline gap-x-1.5 gap-y-1 text-[14px]">
      {children}
    </section>
  );
}
