import { type ReactNode, useEffect, useState } from "react";
import { Button } from "../../parts/controls";

/** A drawing that can take the full screen; Escape gives it back. ``lead`` stands in the line above it. */
export function Enlarged({ lead, children }: { lead?: ReactNode; children: ReactNode }) {
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
      <div className="flex items-baseline gap-3">
        {lead}
        <Button
          look="ghost"
          className="ml-auto shrink-0"
          aria-pressed={large}
          onClick={() => setLarge(!large)}
        >
          {large ? "Back to the view" : "Full screen"}
        </Button>
      </div>
      {children}
    </div>
  );
}
