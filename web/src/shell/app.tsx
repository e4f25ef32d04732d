import { notifyManager, QueryCache, QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState } from "react";
import { api, data, ProblemError, type Schema } from "../api/client";
import { forgetRevisions } from "../api/revisions";
import { askToSignIn, signedInAs } from "../api/session";
import { keys } from "../data/keys";
import { isTyping, watchBuild } from "../lib/build";
import { forgetDrafts } from "../lib/drafts";
import { outbox } from "../lib/outbox";
import { Failure, Waiting } from "../parts/basic";
import { Boundary } from "../parts/boundary";
import { SignIn } from "./signin";

// the first page brings the sign-in alone; all that is behind it follows
const Inside = lazy(() => import("./inside"));

// what is shown at once must not wait for a turn of the clock: it is drawn with what the same key changed besides
notifyManager.setScheduler(queueMicrotask);
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
      if (error instanceof ProblemError && error.status === 401) client.setQueryData(keys.me, null);
    },
  }),
});

export function App() {
  return (
    <QueryClientProvider client={client}>
      <Boundary what="The application">
        <Gate />
      </Boundary>
    </QueryClientProvider>
  );
}

/** Ask before the page is left while something is not stored yet. */
function useLeaveGuard() {
  useEffect(() => {
    const onLeave = (event: BeforeUnloadEvent) => {
      if (outbox.waiting || client.isMutating()) event.preventDefault();
    };
    window.addEventListener("beforeunload", onLeave);
    return () => window.removeEventListener("beforeunload", onLeave);
  }, []);
}

/** Another build on the server is loaded when nothing of this page would be lost. */
function useFreshBuild() {
  useEffect(() => {
    const stop = watchBuild(() => outbox.waiting > 0 || client.isMutating() > 0 || isTyping());
    return () => stop();
  }, []);
}

function Gate() {
  // who was at work last: their views stay as they are while they sign in again
  const [last, setLast] = useState<Schema["Me"] | null>(null);
  const me = useQuery({
    queryKey: keys.me,
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
  useLeaveGuard();
  useFreshBuild();
  useEffect(() => {
    const stop = askToSignIn(() => client.setQueryData(keys.me, null));
    return () => stop();
  }, []);
  const now = me.data ?? null;
  if (now && now !== last) {
    if (last && last.id !== now.id) {
      outbox.clear();
      forgetRevisions();
      forgetDrafts();
    }
    setLast(now);
  }
  const id = now?.id;
  useEffect(() => {
    if (id !== undefined) signedInAs(id);
  }, [id]);
  if (me.isPending) return <Waiting what="Opening" />;
  if (me.error)
    return (
      <div className="mx-auto mt-24 max-w-[460px]">
        <Failure error={me.error} />
      </div>
    );
  const shown = now ?? last;
  if (!shown) return <SignIn ended={false} />;
  return (
    <Suspense fallback={<Waiting what="Opening" />}>
      <Inside key={shown.id} me={shown} away={now === null} />
    </Suspense>
  );
}
