const COLOURS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9];

/** The ten colours of codes, one of them chosen, or none. */
export function Colours({
  id,
  label,
  value,
  disabled = false,
  onChange,
}: {
  id?: string;
  label: string;
  value: number | null;
  disabled?: boolean;
  onChange: (colour: number) => void;
}) {
  return (
    <div id={id} role="radiogroup" aria-label={label} className="flex gap-1 pt-1 pb-1">
      {COLOURS.map((colour) => (
        <button
          key={colour}
          type="button"
          role="radio"
          aria-checked={value === colour}
          aria-label={`Colour ${colour + 1}`}
          disabled={disabled}
          onClick={() => onChange(colour)}
          className={`h-5 w-5 rounded-[3px] ${value === colour ? "outline-2 outline-offset-1 outline-ink" : ""}`}
          style={{ background: `var(--c${colour})` }}
        />
      ))}
    </div>
  );
}
