import { type ReactNode, useEffect, useState } from "react";
import { Button } from "../../parts/controls";

/** A drawing that can take the whole window; Escape gives it back. */
export function Enlarged({ children }: { children: ReactNode }) {
  const [large, setLarge] = useState(false);
  useEffect(() => {
    if (!large) return;
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      setLarge(false);
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [large]);
  return (
    <div className={large ? "fixed inset-0 z-30 overflow-auto bg-paper p-5" : "relative"}>
      <div className="mb-1 flex justify-end">
        <Button look="ghost" aria-pressed={large} onClick={() => setLarge(!large)}>
          {large ? "Back to the view" : "Full screen"}
        </Button>
      </div>
      {children}
    </div>
  );
}
