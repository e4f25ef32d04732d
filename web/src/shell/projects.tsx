import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, data, type Schema } from "../api/client";
import { useAdding } from "../data/adding";
import { keys } from "../data/keys";
import { forgetDrafts } from "../lib/drafts";
import { date, whole } from "../lib/numbers";
import { Button, Empty, Failure, Input, Waiting } from "../parts/basic";
import { Mark } from "../parts/mark";
import { WaitingRows } from "../parts/waitingrows";

/** A project to be made, and those that were there when it was named. */
interface NewProject {
  name: string;
  known: readonly number[];
  /** How much had been typed by then. */
  typed: number;
}

/** The project made under this name, once: where an answer was lost it is found in the list. */
async function madeOnce(given: NewProject, client: QueryClient): Promise<Schema["ProjectPublic"]> {
  const there = await data(api.GET("/api/v1/projects"));
  const before = there.find((one) => one.name === given.name && !given.known.includes(one.id));
  const made = before ?? (await data(api.POST("/api/v1/projects", { body: { name: given.name } })));
  await client.invalidateQueries({ queryKey: keys.projects });
  return made;
}

export function Projects({ me }: { me: Schema["Me"] }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const projects = useQuery({ queryKey: keys.projects, queryFn: () => data(api.GET("/api/v1/projects")) });
  // whoever has typed on since, or has gone elsewhere, is left where they are
  const typed = useRef(0);
  const make = useAdding({
    line: "projects",
    label: (given: NewProject) => given.name,
    send: (given) => madeOnce(given, client),
    done: (made, given) => {
      if (typed.current === given.typed && window.location.pathname === "/")
        void navigate(`/projects/${made.id}/corpus`);
    },
  });
  const begin = (event: FormEvent) => {
    event.preventDefault();
    if (!name.trim() || !projects.data) return;
    make.add({ name: name.trim(), known: projects.data.map((one) => one.id), typed: typed.current });
    setName("");
  };
  const signOut = async () => {
    await api.POST("/api/v1/sign-out");
    forgetDrafts();
    client.clear();
    void navigate("/");
  };
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-[52px] shrink-0 items-center gap-2 bg-bar px-4 text-[15px] font-bold text-[#E9EDE8]">
        <Mark />
        Winnower
        <span className="ml-auto text-[12.5px] font-normal text-[#C6CFCE]">{me.full_name}</span>
        <button
          type="button"
          onClick={() => void signOut()}
          className="ml-3 text-[12.5px] font-normal text-[#C6CFCE] underline"
        >
          Sign out
        </button>
      </header>
      <main className="mx-auto w-full max-w-[760px] flex-1 overflow-auto px-5 py-9">
        <h1 className="mb-4 text-[19px] font-[650]">Projects</h1>
        {projects.isPending && <Waiting what="Reading" />}
        {projects.error && <Failure error={projects.error} />}
        {projects.data && projects.data.length === 0 && (
          <Empty title="No project yet">
            A project holds texts, dictionaries and what you found. Name the first one below.
          </Empty>
        )}
        {projects.data && projects.data.length > 0 && (
          <table className="w-full rounded-md border border-line bg-sheet">
            <thead>
              <tr className="text-ink2">
                <th className="border-b border-line2 px-3 py-1.5 text-left font-semibold">Project</th>
                <th className="border-b border-line2 px-3 py-1.5 text-right font-semibold">Texts</th>
                <th className="border-b border-line2 px-3 py-1.5 text-left font-semibold">Your role</th>
                <th className="border-b border-line2 px-3 py-1.5 text-left font-semibold">Made</th>
              </tr>
            </thead>
            <tbody>
              {projects.data.map((project) => (
                <tr key={project.id} className="h-[34px] border-b border-line last:border-0 hover:bg-wash">
                  <td className="px-3">
                    <Link
                      to={`/projects/${project.id}/corpus`}
                      className="font-semibold text-bottle hover:underline"
                    >
                      {project.name}
                    </Link>
                  </td>
                  <td className="px-3 text-right">{whole(project.texts)}</td>
                  <td className="px-3">{project.role}</td>
                  <td className="px-3">{date(project.made_at.slice(0, 10))}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <form onSubmit={begin} className="mt-5 flex max-w-[460px] gap-2">
          <Input
            aria-label="Name of a new project"
            placeholder="Name of a new project"
            value={name}
            onChange={(event) => {
              typed.current += 1;
              setName(event.target.value);
            }}
          />
          <Button look="main" type="submit" disabled={!name.trim() || !projects.data}>
            Make project
          </Button>
        </form>
        <WaitingRows of={make} onEdit={(given) => setName(given.name)} className="mt-3 max-w-[460px]" />
      </main>
    </div>
  );
}
