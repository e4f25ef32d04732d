import { useEffect, useRef, useState } from "react";
import { Input } from "../../parts/controls";

/** A name in place of itself: Enter keeps it, Escape does not. */
export function Renamed({ name, onDone }: { name: string; onDone: (name: string | null) => void }) {
  const [written, setWritten] = useState(name);
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
        if (event.key === "Enter") onDone(written.trim() || null);
        if (event.key === "Escape") onDone(null);
      }}
    />
  );
}
