import { type ComponentProps, type ReactNode, useId } from "react";
import { Field, Input } from "./basic";

interface Written {
  label: string;
  hint?: ReactNode;
  value: string;
  onChange: (value: string) => void;
}

type Rest<Tag extends "input" | "textarea"> = Omit<ComponentProps<Tag>, "value" | "onChange" | "id">;

/** One line that is typed, with its label. */
export function TextField({ label, hint, value, onChange, ...rest }: Written & Rest<"input">) {
  return (
    <Field label={label} hint={hint}>
      {(id) => <Input {...rest} id={id} value={value} onChange={(event) => onChange(event.target.value)} />}
    </Field>
  );
}

export function Textarea(props: ComponentProps<"textarea">) {
  return <textarea {...props} className="w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1" />;
}

/** Some lines that are typed, with their label. */
export function LongField({ label, hint, value, onChange, ...rest }: Written & Rest<"textarea">) {
  return (
    <Field label={label} hint={hint}>
      {(id) => (
        <Textarea {...rest} id={id} value={value} onChange={(event) => onChange(event.target.value)} />
      )}
    </Field>
  );
}

/** A password, as the browser's own keeper of passwords knows it. */
export function PasswordField({
  kind,
  ...rest
}: Written & Rest<"input"> & { kind: "current-password" | "new-password" }) {
  return <TextField {...rest} type="password" autoComplete={kind} />;
}

/** One of a few, each in a line with its words. */
export function Lines({
  label,
  value,
  onChange,
  choices,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  choices: readonly { value: string; says: ReactNode; disabled?: boolean }[];
}) {
  const name = useId();
  return (
    <div role="radiogroup" aria-label={label} className="mb-4 grid gap-2">
      {choices.map((choice) => (
        <label key={choice.value} className={`flex items-start gap-2 ${choice.disabled ? "opacity-50" : ""}`}>
          <input
            type="radio"
            name={name}
            className="mt-0.5"
            checked={choice.value === value}
            disabled={choice.disabled}
            onChange={() => onChange(choice.value)}
          />
          <span>{choice.says}</span>
        </label>
      ))}
    </div>
  );
}
