import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactNode } from "react";
import { MemoryRouter, Route, Routes, useLocation } from "react-router";
import { afterEach, vi } from "vitest";
import { ToastProvider } from "../parts/toast";
import { EvidencePanel, EvidenceProvider } from "../shell/evidence";

/** One request a component made. */
export interface Asked {
  method: string;
  path: string;
  // biome-ignore lint/suspicious/noExplicitAny: a test knows what its component sends
  body: any;
}

/** What the server answers: by "METHOD path", the path below the project, without the query. */
// biome-ignore lint/suspicious/noExplicitAny: a test knows what its component sends
export type Answers = Record<string, (body: any, asked: Asked) => unknown>;

/** An answer that is no success, as the server words them. */
export class Refused {
  constructor(
    readonly status: number,
    readonly detail: string,
    readonly position: number | null = null,
  ) {}
}

export const SUMMARY = { id: 7, name: "Lynx", role: "editor", revision: 3, texts: 40 };
const BELOW = /^\/api\/v1\/projects\/7/;

/** Stand in for the server; every request is kept in the list that comes back. */
export function serve(answers: Answers): Asked[] {
  const all: Asked[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const path = new URL(request.url).pathname.replace(BELOW, "") || "/";
    const written = await request.text();
    const asked = { method: request.method, path, body: written ? JSON.parse(written) : null };
    all.push(asked);
    const answer = answers[`${request.method} ${path}`] ?? (path === "/" ? () => SUMMARY : undefined);
    if (!answer)
      return Response.json({ detail: `Nothing answers ${request.method} ${path}.` }, { status: 404 });
    const said = await answer(asked.body, asked);
    if (said instanceof Refused)
      return Response.json({ detail: said.detail, position: said.position }, { status: said.status });
    return said === undefined ? new Response(null, { status: 204 }) : Response.json(said);
  });
  return all;
}

/** The requests of one kind, in order. */
// biome-ignore lint/suspicious/noExplicitAny: a test knows what its component sends
export function askedFor(all: readonly Asked[], what: string): any[] {
  return all.filter((one) => `${one.method} ${one.path}` === what).map((one) => one.body);
}

function Address() {
  const { pathname, search } = useLocation();
  return <output data-testid="address">{pathname + decodeURIComponent(search.replaceAll("+", " "))}</output>;
}

/** A component within project 7, at an address, beside the panel for evidence. */
export function show(children: ReactNode, search = "") {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const page = (inner: ReactNode) => (
    <QueryClientProvider client={client}>
      <ToastProvider>
        <MemoryRouter initialEntries={[`/projects/7/corpus${search}`]}>
          <Address />
          <Routes>
            <Route
              path="/projects/:projectId/*"
              element={
                <EvidenceProvider>
                  {inner}
                  <EvidencePanel />
                </EvidenceProvider>
              }
            />
          </Routes>
        </MemoryRouter>
      </ToastProvider>
    </QueryClientProvider>
  );
  const shown = render(page(children));
  return { user: userEvent.setup(), again: (next: ReactNode) => shown.rerender(page(next)) };
}

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
