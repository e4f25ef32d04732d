import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { useOthersNotes } from "../../data/notes";
import { useProjectId } from "../../data/project";

const VIEWS = [
  { to: "notes", label: "Notes" },
  { to: "findings", label: "Findings" },
  { to: "paraphrases", label: "Paraphrases" },
  { to: "assistant", label: "Assistant" },
  { to: "report", label: "Report" },
  { to: "data", label: "Data" },
];

/** The views of the station. */
export function NotebookHead({ children }: { children?: ReactNode }) {
  const project = useProjectId();
  const { search } = useLocation();
  useOthersNotes();
  return (
    <nav
      aria-label="Notebook"
      className="flex min-h-[34px] shrink-0 items-center gap-5 border-b border-line2 bg-sheet px-4"
    >
      {VIEWS.map((view) => (
        <NavLink
          key={view.to}
          to={`/projects/${project}/notebook/${view.to}${search}`}
          className={({ isActive }) =>
            `shrink-0 border-b-2 px-0.5 py-1.5 ${isActive ? "border-bottle font-bold text-bottle" : "border-transparent text-ink2 hover:text-ink"}`
          }
        >
          {view.label}
        </NavLink>
      ))}
      <span className="ml-auto flex shrink-0 items-center gap-3">{children}</span>
    </nav>
  );
}
