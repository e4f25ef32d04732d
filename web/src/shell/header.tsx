import { useEffect, useState } from "react";
import { NavLink, useLocation, useNavigate } from "react-router";
import { api, type Schema } from "../api/client";
import { useHistorySteps, useProjectId, useSummary } from "../data/project";
import { forgetDrafts } from "../lib/drafts";
import { plural } from "../lib/numbers";
import { carried } from "../lib/scope";
import { Menu } from "../parts/controls";
import { Mark } from "../parts/mark";
import { AccountDialog } from "./account";
import { toggleTheme } from "./theme";

/** The stations that hold work so far, in the order of work. */
const STATIONS = [
  { path: "corpus", name: "Corpus", holds: (s: Schema["ProjectSummary"]) => plural(s.texts, "text") },
  { path: "dictionary", name: "Dictionary", holds: (s: Schema["ProjectSummary"]) => plural(s.terms, "term") },
  {
    path: "coding",
    name: "Coding",
    holds: (s: Schema["ProjectSummary"]) =>
      s.passages ? plural(s.passages, "passage") : plural(s.codes, "code"),
  },
  {
    path: "compare",
    name: "Compare",
    holds: (s: Schema["ProjectSummary"]) =>
      s.texts && (s.terms || s.passages) ? "ready" : "needs texts and terms",
  },
  { path: "notebook", name: "Notebook", holds: (s: Schema["ProjectSummary"]) => plural(s.notes, "note") },
];

export function Header({
  me,
  onGoTo,
  onKeys,
  onJobs,
}: {
  me: Schema["Me"];
  onGoTo: () => void;
  onKeys: () => void;
  onJobs: () => void;
}) {
  const project = useProjectId();
  const summary = useSummary().data;
  const { search } = useLocation();
  const navigate = useNavigate();
  const along = carried(search).toString();
  const kept = along ? `?${along}` : "";
  const { undo, redo } = useHistorySteps();
  const [account, setAccount] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement &&
        event.target.closest("input, textarea, select, [contenteditable]");
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        onGoTo();
      } else if (typing) {
        return;
      } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
        event.preventDefault();
        if (event.repeat) return; // a key that is held down is one step
        if (event.shiftKey) redo();
        else undo();
      } else if (event.key === "?") {
        onKeys();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const signOut = async () => {
    await api.POST("/api/v1/sign-out");
    forgetDrafts();
    // nothing of this person stays in the page for the next one
    window.location.assign("/");
  };
  const initials = me.full_name
    .split(/\s+/)
    .map((part) => part[0])
    .slice(0, 2)
    .join("")
    .toUpperCase();
  return (
    <header className="flex h-[52px] shrink-0 items-stretch gap-4 bg-bar px-4 whitespace-nowrap text-[#E9EDE8]">
      <NavLink
        to="/"
        className="flex items-center gap-2 text-[15px] font-bold"
        aria-label="Winnower, all projects"
      >
        <Mark />
        <span className="max-[860px]:hidden">Winnower</span>
      </NavLink>
      <div className="flex min-w-0 items-center border-l border-[#33424C] pl-4 text-[13px] text-[#B9C3C2]">
        <span className="max-w-[210px] truncate" title={summary?.name}>
          {summary?.name}
        </span>
      </div>
      <nav aria-label="Stations" className="flex">
        {STATIONS.map((station) => (
          <NavLink
            key={station.path}
            to={`/projects/${project}/${station.path}${kept}`}
            className={({ isActive }) =>
              `flex flex-col justify-center border-b-[3px] px-4 leading-[1.2] ${isActive ? "border-[#F5DC92] bg-bar2" : "border-transparent hover:bg-bar2"}`
            }
          >
            <b className="text-[13.5px] font-semibold">{station.name}</b>
            <small className="text-[11px] text-[#A3B0B2]">{summary ? station.holds(summary) : " "}</small>
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-2.5 text-[#C6CFCE]">
        {summary && summary.running_jobs > 0 && (
          <button
            type="button"
            onClick={onJobs}
            className="rounded border border-[#42525C] px-2 py-0.5 text-[#F5DC92]"
          >
            {plural(summary.running_jobs, "job")} running
          </button>
        )}
        <button
          type="button"
          aria-label="Undo"
          title={summary?.undo ? `Undo: ${summary.undo}` : "Nothing to undo"}
          disabled={!summary?.undo}
          // a double click is one step
          onClick={(event) => event.detail < 2 && undo()}
          className="px-1 text-[15px] disabled:opacity-35"
        >
          ↶
        </button>
        <button
          type="button"
          aria-label="Redo"
          title={summary?.redo ? `Redo: ${summary.redo}` : "Nothing to redo"}
          disabled={!summary?.redo}
          onClick={(event) => event.detail < 2 && redo()}
          className="px-1 text-[15px] disabled:opacity-35"
        >
          ↷
        </button>
        <button
          type="button"
          onClick={onGoTo}
          className="flex items-center gap-1.5 whitespace-nowrap hover:text-white"
        >
          Go to…{" "}
          <span className="max-[860px]:hidden rounded border border-[#42525C] px-1.5 py-px text-[11px]">
            Ctrl K
          </span>
        </button>
        <Menu
          trigger={
            <button
              type="button"
              aria-label={`${initials}: signed in as ${me.full_name}`}
              className="grid h-[26px] w-[26px] place-items-center rounded-full bg-[#C98F2B] text-[11px] font-bold text-[#1b1200]"
            >
              {initials}
            </button>
          }
          items={[
            { label: `Signed in as ${me.full_name}`, onSelect: () => {}, disabled: true },
            { label: "All projects", onSelect: () => navigate("/") },
            { label: "Password and sessions", onSelect: () => setAccount(true) },
            { label: "Light or dark", onSelect: toggleTheme },
            { label: "Keys of this view", onSelect: onKeys },
            { label: "Sign out", onSelect: () => void signOut() },
          ]}
        />
      </div>
      {account && <AccountDialog me={me} onClose={() => setAccount(false)} />}
    </header>
  );
}
