import { QueryCache, QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { BrowserRouter, Navigate, Outlet, Route, Routes, useNavigate } from "react-router";
import { api, data, ProblemError, type Schema } from "../api/client";
import { Failure, Waiting } from "../parts/controls";
import { ToastProvider } from "../parts/toast";
import { Compare } from "../stations/compare/compare";
import { CheckView } from "../stations/corpus/check";
import { Deliveries } from "../stations/corpus/deliveries";
import { ImportFlow } from "../stations/corpus/import";
import { Reader } from "../stations/corpus/reader";
import { TextTable } from "../stations/corpus/table";
import { VariablesView } from "../stations/corpus/variables";
import { DictionaryStation } from "../stations/dictionary/station";
import { Context } from "../stations/words/context";
import { Search } from "../stations/words/search";
import { Words } from "../stations/words/words";
import { KeysDialog } from "./about";
import { EvidencePanel, EvidenceProvider } from "./evidence";
import { GoTo } from "./goto";
import { Header } from "./header";
import { useProjectId, useSummary } from "./project";
import { Projects } from "./projects";
import { ScopeBar } from "./scopebar";
import { SignIn } from "./signin";

const client: QueryClient = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) =>
        count < 2 && error instanceof ProblemError && (error.status === 0 || error.status === 503),
      refetchOnWindowFocus: false,
      staleTime: 15_000,
    },
  },
  queryCache: new QueryCache({
    onError: (error) => {
      if (error instanceof ProblemError && error.status === 401) client.setQueryData(["me"], null);
    },
  }),
});

export function App() {
  return (
    <QueryClientProvider client={client}>
      <ToastProvider>
        <BrowserRouter>
          <Gate />
        </BrowserRouter>
      </ToastProvider>
    </QueryClientProvider>
  );
}

function Gate() {
  const [wasIn, setWasIn] = useState(false);
  const me = useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      try {
        return await data(api.GET("/api/v1/me"));
      } catch (error) {
        if (error instanceof ProblemError && error.status === 401) return null;
        throw error;
      }
    },
    staleTime: Infinity,
  });
  if (me.isPending) return <Waiting what="Opening" />;
  if (me.error)
    return (
      <div className="mx-auto mt-24 max-w-[460px]">
        <Failure error={me.error} />
      </div>
    );
  if (!me.data) return <SignIn ended={wasIn} />;
  if (!wasIn) setWasIn(true);
  return (
    <Routes>
      <Route path="/" element={<Projects me={me.data} />} />
      <Route path="/projects/:projectId" element={<Frame me={me.data} />}>
        <Route index element={<Navigate to="corpus" replace />} />
        <Route path="corpus" element={<TextTable />} />
        <Route path="corpus/import" element={<ImportFlow />} />
        <Route path="corpus/deliveries" element={<Deliveries />} />
        <Route path="corpus/variables" element={<VariablesView />} />
        <Route path="corpus/words" element={<Words />} />
        <Route path="corpus/context" element={<Context />} />
        <Route path="corpus/search" element={<Search />} />
        <Route path="corpus/check" element={<CheckView />} />
        <Route path="corpus/:textId" element={<Reader />} />
        <Route path="dictionary" element={<DictionaryStation />} />
        <Route path="compare" element={<Compare />} />
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

function Frame({ me }: { me: Schema["Me"] }) {
  const [goTo, setGoTo] = useState(false);
  const [keys, setKeys] = useState(false);
  const navigate = useNavigate();
  const project = useProjectId();
  const summary = useSummary();
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
        <Header
          me={me}
          onGoTo={() => setGoTo(true)}
          onKeys={() => setKeys(true)}
          onJobs={() => navigate(`/projects/${project}/corpus/deliveries`)}
        />
        <ScopeBar />
        <div className="flex min-h-0 flex-1">
          <main className="min-h-0 min-w-0 flex-1">
            <Outlet />
          </main>
          <EvidencePanel />
        </div>
      </div>
      <GoTo open={goTo} onClose={() => setGoTo(false)} />
      <KeysDialog open={keys} onClose={() => setKeys(false)} />
    </EvidenceProvider>
  );
}
