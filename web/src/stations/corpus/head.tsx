import type { ReactNode } from "react";
import { NavLink, useLocation, useNavigate, useParams } from "react-router";
import { useProjectId, useSummary } from "../../data/project";
import { useTabs } from "../../lib/tabs";

const VIEWS = [
  { to: "", label: "Texts" },
  { to: "/words", label: "Words" },
  { to: "/context", label: "In context" },
  { to: "/search", label: "Search" },
  { to: "/variables", label: "Variables" },
  { to: "/check", label: "Check" },
  { to: "/deliveries", label: "Deliveries" },
  { to: "/articles", label: "Articles" },
];

/** The views of the station, and the texts that are open. */
export function CorpusHead({ children }: { children?: ReactNode }) {
  const project = useProjectId();
  const { search } = useLocation();
  const writes = useSummary().data?.role !== "reader";
  const base = `/projects/${project}/corpus`;
  const look = ({ isActive }: { isActive: boolean }) =>
    `shrink-0 border-b-2 px-0.5 py-1.5 whitespace-nowrap ${isActive ? "border-bottle font-bold text-bottle" : "border-transparent text-ink2 hover:text-ink"}`;
  return (
    <div className="shrink-0">
      <nav
        aria-label="Corpus"
        className="flex items-center gap-5 overflow-x-auto border-b border-line2 bg-sheet px-4"
      >
        {VIEWS.map((view) => (
          <NavLink key={view.to} to={`${base}${view.to}${search}`} end className={look}>
            {view.label}
          </NavLink>
        ))}
        <OpenTexts />
        <span className="ml-auto flex shrink-0 items-center gap-3">
          {children}
          {writes && (
            <NavLink
              to={`${base}/import${search}`}
              className="my-1 rounded-[5px] border border-bottle bg-bottle px-2.5 py-0.5 font-semibold whitespace-nowrap text-onbottle hover:opacity-90"
            >
              Import texts
            </NavLink>
          )}
        </span>
      </nav>
    </div>
  );
}

/** Texts open in tabs: a click reads on, the cross closes. */
function OpenTexts() {
  const project = useProjectId();
  const here = Number(useParams().textId);
  const { search } = useLocation();
  const navigate = useNavigate();
  const { tabs, close, closeAll } = useTabs(project);
  if (!tabs.length) return null;
  const shut = (id: number) => {
    close(id);
    if (id !== here) return;
    const others = tabs.filter((tab) => tab.id !== id);
    void navigate(`/projects/${project}/corpus${others.length ? `/${others.at(-1)!.id}` : ""}${search}`);
  };
  return (
    <nav
      aria-label="Open texts"
      className="flex min-w-0 flex-1 items-center gap-1 overflow-x-auto border-l border-line pl-3"
    >
      {tabs.map((tab) => (
        <span
          key={tab.id}
          className={`flex max-w-[180px] min-w-[70px] items-center gap-1 rounded px-1.5 py-0.5 ${tab.id === here ? "bg-tint font-semibold text-bottle" : "text-ink2 hover:bg-wash"}`}
        >
          <button
            aria-current={tab.id === here ? "page" : undefined}
            type="button"
            title={tab.title}
            onClick={() => navigate(`/projects/${project}/corpus/${tab.id}${search}`)}
            className="truncate"
          >
            {tab.title}
          </button>
          <button
            type="button"
            aria-label={`Close ${tab.title}`}
            onClick={() => shut(tab.id)}
            className="text-ink3 hover:text-rust"
          >
            ×
          </button>
        </span>
      ))}
      {tabs.length > 2 && (
        <button type="button" onClick={closeAll} className="shrink-0 px-1 text-ink3 hover:text-rust">
          close all
        </button>
      )}
    </nav>
  );
}
