import { useEffect, useRef } from "react";
import { useKeptWords } from "../../lib/drafts";
import { Input } from "../../parts/controls";

/** A name in place of itself: Enter keeps it, and so does leaving it; Escape does not, and what was typed is there when
 * it is renamed again. */
export function Renamed({
  of,
  name,
  onDone,
}: {
  /** What is renamed, such as "run 3". */
  of: string;
  name: string;
  onDone: (name: string | null) => void;
}) {
  const [written, setWritten, forget] = useKeptWords(`name of ${of}`, name);
  const keep = () => {
    forget();
    onDone(written.trim() || null);
  };
  const field = useRef<HTMLInputElement>(null);
  // the menu it was chosen in gives the focus back a moment later
  useEffect(() => {
    const soon = setTimeout(() => field.current?.select(), 50);
    return () => clearTimeout(soon);
  }, []);
  return (
    <Input
      ref={field}
      aria-label="Name"
      value={written}
      maxLength={190}
      className="w-[260px]!"
      onChange={(event) => setWritten(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
        if (event.key === "Escape") onDone(null);
      }}
      onBlur={keep}
    />
  );
}
