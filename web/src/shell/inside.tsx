import { type ComponentType, lazy, Suspense, useState } from "react";
import { BrowserRouter, Navigate, Outlet, Route, Routes, useLocation, useNavigate } from "react-router";
import type { Schema } from "../api/client";
import { useProjectId, useSummary } from "../data/project";
import { Failure, Waiting } from "../parts/basic";
import { Boundary } from "../parts/boundary";
import { ToastProvider } from "../parts/toast";
import { KeysDialog } from "./about";
import { ClashDialog } from "./clash";
import { EvidencePanel, EvidenceProvider } from "./evidence";
import { GoTo } from "./goto";
import { Header } from "./header";
import { Projects } from "./projects";
import { ScopeBar } from "./scopebar";
import { SignInAgain } from "./signinagain";

/** A view that is loaded when it is opened first. */
function station<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  return lazy(() => load().then((module) => ({ default: module[name] })));
}

const Codebook = station(() => import("../stations/coding/codebook"), "Codebook");
const Passages = station(() => import("../stations/coding/passages"), "Passages");
const Runs = station(() => import("../stations/coding/runs"), "Runs");
const Read = station(() => import("../stations/coding/read"), "Read");
const Compare = station(() => import("../stations/compare/compare"), "Compare");
const Keywords = station(() => import("../stations/compare/keywords"), "Keywords");
const TogetherView = station(() => import("../stations/compare/together"), "TogetherView");
const NetworkView = station(() => import("../stations/compare/network"), "NetworkView");
const BesideView = station(() => import("../stations/compare/beside"), "BesideView");
const Reports = station(() => import("../stations/notebook/report"), "Reports");
const Assistant = station(() => import("../stations/notebook/assistant"), "Assistant");
const Findings = station(() => import("../stations/notebook/findings"), "Findings");
const Articles = station(() => import("../stations/corpus/articles"), "Articles");
const CheckView = station(() => import("../stations/corpus/check"), "CheckView");
const Deliveries = station(() => import("../stations/corpus/deliveries"), "Deliveries");
const ImportFlow = station(() => import("../stations/corpus/import"), "ImportFlow");
const Reader = station(() => import("../stations/corpus/reader"), "Reader");
const TextTable = station(() => import("../stations/corpus/table"), "TextTable");
const VariablesView = station(() => import("../stations/corpus/variables"), "VariablesView");
const DataTables = station(() => import("../stations/notebook/dataset"), "DataTables");
const Notes = station(() => import("../stations/notebook/notes"), "Notes");
const Paraphrases = station(() => import("../stations/notebook/paraphrases"), "Paraphrases");
const DictionaryStation = station(() => import("../stations/dictionary/station"), "DictionaryStation");
const Context = station(() => import("../stations/words/context"), "Context");
const Search = station(() => import("../stations/words/search"), "Search");
const Words = station(() => import("../stations/words/words"), "Words");

/** All that is behind the sign-in: projects, and the stations of one. */
export default function Inside({ me, away }: { me: Schema["Me"]; away: boolean }) {
  return (
    <ToastProvider>
      {away && <SignInAgain name={me.full_name} />}
      <ClashDialog />
      <BrowserRouter>
        <Routes>
          <Route
            path="/"
            element={
              <Boundary what="The list of projects">
                <Projects me={me} />
              </Boundary>
            }
          />
          <Route path="/projects/:projectId" element={<Frame me={me} />}>
            <Route index element={<Onward to="corpus" />} />
            <Route path="corpus" element={<TextTable />} />
            <Route path="corpus/import" element={<ImportFlow />} />
            <Route path="corpus/deliveries" element={<Deliveries />} />
            <Route path="corpus/variables" element={<VariablesView />} />
            <Route path="corpus/words" element={<Words />} />
            <Route path="corpus/context" element={<Context />} />
            <Route path="corpus/search" element={<Search />} />
            <Route path="corpus/articles" element={<Articles />} />
            <Route path="corpus/check" element={<CheckView />} />
            <Route path="corpus/:textId" element={<Reader />} />
            <Route path="dictionary" element={<DictionaryStation />} />
            <Route path="coding" element={<Onward to="read" />} />
            <Route path="coding/read" element={<Read />} />
            <Route path="coding/read/:textId" element={<Read />} />
            <Route path="coding/codebook" element={<Codebook />} />
            <Route path="coding/passages" element={<Passages />} />
            <Route path="coding/runs" element={<Runs />} />
            <Route path="compare" element={<Compare />} />
            <Route path="compare/keywords" element={<Keywords />} />
            <Route path="compare/together" element={<TogetherView />} />
            <Route path="compare/network" element={<NetworkView />} />
            <Route path="compare/beside" element={<BesideView />} />
            <Route path="notebook" element={<Onward to="notes" />} />
            <Route path="notebook/data" element={<DataTables />} />
            <Route path="notebook/findings" element={<Findings />} />
            <Route path="notebook/assistant" element={<Assistant />} />
            <Route path="notebook/report" element={<Reports />} />
            <Route path="notebook/notes" element={<Notes />} />
            <Route path="notebook/paraphrases" element={<Paraphrases />} />
          </Route>
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </BrowserRouter>
    </ToastProvider>
  );
}

function Frame({ me }: { me: Schema["Me"] }) {
  const [goTo, setGoTo] = useState(false);
  const [keys, setKeys] = useState(false);
  const navigate = useNavigate();
  const project = useProjectId();
  const summary = useSummary();
  const { pathname, search } = useLocation();
  if (summary.error) {
    return (
      <div className="mx-auto mt-24 max-w-[460px]">
        <Failure error={summary.error} />
        <button type="button" onClick={() => navigate("/")} className="mt-3 text-bottle underline">
          All projects
        </button>
      </div>
    );
  }
  return (
    <EvidenceProvider key={project}>
      <div className="flex h-full flex-col">
        <Boundary what="The header" shown={pathname}>
          <Header
            me={me}
            onGoTo={() => setGoTo(true)}
            onKeys={() => setKeys(true)}
            onJobs={() => navigate(`/projects/${project}/corpus/deliveries`)}
          />
        </Boundary>
        <Boundary what="The scope bar" shown={pathname + search}>
          <ScopeBar />
        </Boundary>
        <div className="flex min-h-0 flex-1">
          <main className="min-h-0 min-w-0 flex-1">
            <Boundary what="This view" shown={pathname + search}>
              <Suspense fallback={<Waiting what="Opening" />}>
                <Outlet />
              </Suspense>
            </Boundary>
          </main>
          <Boundary what="The panel" shown={pathname + search}>
            <EvidencePanel />
          </Boundary>
        </div>
      </div>
      <Boundary what="Go to" shown={String(goTo)}>
        <GoTo open={goTo} onClose={() => setGoTo(false)} />
      </Boundary>
      <KeysDialog open={keys} onClose={() => setKeys(false)} />
    </EvidenceProvider>
  );
}

/** To the first view of a station; what is in the address, the scope above all, goes along. */
function Onward({ to }: { to: string }) {
  return <Navigate to={{ pathname: to, search: useLocation().search }} replace />;
}
