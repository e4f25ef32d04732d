import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useProjectId } from "../../data/project";
import { date, plural } from "../../lib/numbers";
import { Button, Dialog, Failure, Input, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { Steps } from "./codesteps";

/** Versions of the codebook: kept under a name, held against what is there now, put back. */
export function CodebookVersions({ writes, onClose }: { writes: boolean; onClose: () => void }) {
  const project_id = useProjectId();
  const [name, setName] = useState("");
  const [open, setOpen] = useState<number | null>(null);
  const path = { path: { project_id } };
  const versions = useQuery({
    queryKey: keys.of(project_id, "code versions"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/codebook/versions", { params: path })),
  });
  const keep = useChange(
    (name: string) =>
      data(
        api.POST("/api/v1/projects/{project_id}/codebook/versions", {
          params: path,
          body: { name, note: "" },
        }),
      ),
    undefined,
    "groups of codes",
  );
  return (
    <Dialog title="Versions of the codebook" open onClose={onClose} wide>
      {writes && (
        <form
          className="mb-3 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (!name.trim()) return;
            keep.mutate(name.trim());
            setName("");
          }}
        >
          <Input
            aria-label="Name of the version"
            placeholder="Name of today’s version"
            value={name}
            maxLength={120}
            onChange={(event) => setName(event.target.value)}
            className="max-w-[280px]"
          />
          <Button type="submit" look="main" disabled={!name.trim()}>
            Keep the current state
          </Button>
        </form>
      )}
      {versions.isPending && <Waiting what="Reading the versions" />}
      {versions.error && <Failure error={versions.error} />}
      {versions.data?.length === 0 && (
        <p className="text-ink2">No version yet. Keep one before you change the codebook much.</p>
      )}
      <ul>
        {versions.data?.map((one) => (
          <li key={one.number} className="border-t border-line py-2">
            <div className="flex items-baseline gap-3">
              <b>
                {one.number}
                {one.name ? ` “${one.name}”` : ""}
              </b>
              <span className="text-ink2">
                {plural(one.codes, "code")}, {one.made_by}, {date(one.made_at)}
                {one.now ? ", current" : ""}
              </span>
              {!one.now && (
                <Button
                  look="ghost"
                  className="ml-auto"
                  aria-expanded={open === one.number}
                  onClick={() => setOpen(open === one.number ? null : one.number)}
                >
                  What differs
                </Button>
              )}
            </div>
            {open === one.number && <Differences number={one.number} writes={writes} onBack={onClose} />}
          </li>
        ))}
      </ul>
    </Dialog>
  );
}

function Differences({ number, writes, onBack }: { number: number; writes: boolean; onBack: () => void }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const path = { params: { path: { project_id, number } } };
  const found = useQuery({
    queryKey: keys.of(project_id, "code versions", number),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/codebook/versions/{number}/differences", path)),
  });
  const back = useChange(
    () => data(api.POST("/api/v1/projects/{project_id}/codebook/versions/{number}/put-back", path)),
    (done) => {
      tell(`${done.label}. Undo takes it back.`);
      onBack();
    },
    "anything",
  );
  if (found.isPending) return <Waiting what="Comparing" />;
  if (found.error) return <Failure error={found.error} />;
  const told: Schema["CodebookTaken"] = found.data;
  const gone = told.steps.filter((one) => one.state === "gone").length;
  return (
    <div className="mt-1">
      <p className="mb-1 text-ink2">Restoring it would change this:</p>
      <Steps told={told} />
      {writes && (
        <div className="mt-2 flex items-center gap-3">
          <Button disabled={back.isPending} onClick={() => back.mutate(undefined)}>
            Restore this version
          </Button>
          {gone > 0 && (
            <span className="text-ink2">
              {plural(gone, "code")} that came since would go with their passages; undo brings them back.
            </span>
          )}
        </div>
      )}
    </div>
  );
}
