import type { ReactNode } from "react";

/** A panel at the right of a view that opens and closes: its title, what stands under it, its contents. */
export function SidePanel({
  label,
  title,
  close,
  onClose,
  head,
  wide = false,
  children,
}: {
  label: string;
  title: ReactNode;
  close: string;
  onClose: () => void;
  head: ReactNode;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <aside
      aria-label={label}
      className={`fade-in flex min-h-0 shrink-0 flex-col border-l border-line2 bg-sheet ${wide ? "w-[372px]" : "w-[356px]"}`}
    >
      <div className="border-b border-line px-3.5 py-3">
        <div className="flex items-baseline justify-between">
          <b className="text-[14px]">{title}</b>
          <button
            type="button"
            aria-label={close}
            onClick={onClose}
            className="px-1 text-[15px] leading-none text-ink2 hover:text-ink"
          >
            ×
          </button>
        </div>
        {head}
      </div>
      {children}
    </aside>
  );
}
