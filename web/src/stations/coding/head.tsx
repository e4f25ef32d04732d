import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { useOthersWork, useUnstored } from "../../data/coding";
import { useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";

const VIEWS = [
  { to: "read", label: "Read" },
  { to: "codebook", label: "Codebook" },
  { to: "passages", label: "Passages" },
  { to: "runs", label: "Runs" },
];

/** The views of the station, and whether all that was coded is stored. */
export function CodingHead({ children }: { children?: ReactNode }) {
  const project = useProjectId();
  const { search } = useLocation();
  useOthersWork();
  const unstored = useUnstored();
  return (
    <nav
      aria-label="Coding"
      className="flex min-h-[34px] shrink-0 items-center gap-5 border-b border-line2 bg-sheet px-4"
    >
      {VIEWS.map((view) => (
        <NavLink
          key={view.to}
          to={`/projects/${project}/coding/${view.to}${search}`}
          className={({ isActive }) =>
            `shrink-0 border-b-2 px-0.5 py-1.5 ${isActive ? "border-bottle font-bold text-bottle" : "border-transparent text-ink2 hover:text-ink"}`
          }
        >
          {view.label}
        </NavLink>
      ))}
      {unstored.away && (
        <span role="status" className="text-rust">
          The server does not answer. {plural(unstored.count, "act")} of coding kept here and sent again.
        </span>
      )}
      <span className="ml-auto flex shrink-0 items-center gap-3">{children}</span>
    </nav>
  );
}
