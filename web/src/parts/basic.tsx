import { type ButtonHTMLAttributes, type ComponentProps, type ReactNode, useId } from "react";

type Look = "plain" | "main" | "ghost" | "rust";
const LOOKS: Record<Look, string> = {
  plain: "border border-line2 bg-sheet text-ink hover:bg-wash",
  main: "border border-bottle bg-bottle text-onbottle hover:opacity-90",
  ghost: "text-bottle hover:underline",
  rust: "border border-rust text-rust bg-sheet hover:bg-wash",
};

export function Button({
  look = "plain",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  const size = look === "ghost" ? "px-1 py-0.5" : "px-2.5 py-1";
  return (
    <button
      type="button"
      {...rest}
      className={`inline-flex items-center gap-1.5 rounded-[5px] font-semibold whitespace-nowrap disabled:opacity-45 ${size} ${LOOKS[look]} ${className}`}
    />
  );
}

export function Field({
  label,
  children,
  hint,
}: {
  label: string;
  children: (id: string) => ReactNode;
  hint?: ReactNode;
}) {
  const id = useId();
  return (
    <div className="mb-3.5">
      <label htmlFor={id} className="mb-1 block text-[12px] font-bold text-ink2">
        {label}
      </label>
      {children(id)}
      {hint && <div className="mt-1 text-ink2">{hint}</div>}
    </div>
  );
}

export function Input(props: ComponentProps<"input">) {
  return (
    <input
      {...props}
      className={`w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1 text-ink placeholder:text-ink3 ${props.className ?? ""}`}
    />
  );
}

export interface Choice {
  value: string;
  label: string;
  disabled?: boolean;
}

export function Select({
  choices,
  value,
  onChange,
  ...rest
}: { choices: readonly Choice[]; value: string; onChange: (value: string) => void } & Omit<
  ComponentProps<"select">,
  "onChange" | "value"
>) {
  return (
    <select
      {...rest}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={`w-full rounded-[5px] border border-line2 bg-sheet px-1.5 py-1 text-ink ${rest.className ?? ""}`}
    >
      {choices.map((choice) => (
        <option key={choice.value} value={choice.value} disabled={choice.disabled}>
          {choice.label}
        </option>
      ))}
    </select>
  );
}

/** One of a few, all in view. */
export function Segments({
  choices,
  value,
  onChange,
  label,
}: {
  choices: readonly Choice[];
  value: string;
  onChange: (value: string) => void;
  label: string;
}) {
  return (
    <div
      role="radiogroup"
      aria-label={label}
      className="inline-flex overflow-hidden rounded-[5px] border border-line2"
    >
      {choices.map((choice) => (
        <button
          key={choice.value}
          type="button"
          role="radio"
          aria-checked={choice.value === value}
          disabled={choice.disabled}
          onClick={() => onChange(choice.value)}
          className={`border-r border-line px-2.5 py-0.5 last:border-0 disabled:opacity-40 ${choice.value === value ? "bg-tint font-bold text-bottle" : "bg-sheet text-ink2 hover:bg-wash"}`}
        >
          {choice.label}
        </button>
      ))}
    </div>
  );
}

export function Kbd({ children }: { children: ReactNode }) {
  return (
    <kbd className="rounded border border-line2 px-1.5 py-px font-sans text-[11px] whitespace-nowrap">
      {children}
    </kbd>
  );
}

/** A category's colour; never the only sign, its name stands beside it. */
export function Swatch({ colour, className = "" }: { colour: number; className?: string }) {
  return (
    <span
      aria-hidden
      className={`mr-[7px] inline-block h-[9px] w-[9px] shrink-0 rounded-[2px] ${className}`}
      style={{ background: `var(--c${colour % 10})` }}
    />
  );
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-[440px] px-6 py-14 text-center">
      <div className="mb-1.5 text-[15px] font-[650]">{title}</div>
      <div className="text-ink2">{children}</div>
    </div>
  );
}

export function Failure({ error }: { error: unknown }) {
  const message = error instanceof Error ? error.message : String(error);
  return (
    <div role="alert" className="rounded-[5px] border-l-[3px] border-rust bg-sheet px-3 py-2 text-rust">
      {message}
    </div>
  );
}

export function Waiting({ what }: { what: string }) {
  return (
    <div role="status" className="px-4 py-6 text-ink2">
      {what}…
    </div>
  );
}
