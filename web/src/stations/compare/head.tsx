import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { useProjectId } from "../../data/project";
import { carried } from "../../lib/scope";

const VIEWS = [
  { to: "", label: "By group" },
  { to: "/keywords", label: "Keywords" },
  { to: "/together", label: "Co-occurrence" },
  { to: "/network", label: "Word network" },
  { to: "/beside", label: "Passages side by side" },
];

/** The views of the station. */
export function CompareHead({ children }: { children?: ReactNode }) {
  const project = useProjectId();
  const { search } = useLocation();
  const along = carried(search).toString();
  return (
    <nav
      aria-label="Compare"
      className="flex min-h-[34px] shrink-0 items-center gap-5 border-b border-line2 bg-sheet px-4"
    >
      {VIEWS.map((view) => (
        <NavLink
          key={view.to}
          end
          to={`/projects/${project}/compare${view.to}${along ? `?${along}` : ""}`}
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
