import { notifyManager, QueryCache, QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { api, data, ProblemError } from "../api/client";
import { keys } from "../data/keys";
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

function Gate() {
  const [wasIn, setWasIn] = useState(false);
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
    <Suspense fallback={<Waiting what="Opening" />}>
      <Inside me={me.data} />
    </Suspense>
  );
}
