import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keyed, useAdding } from "../../data/adding";
import { type Code, useCodebook } from "../../data/coding";
import { useChange, useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Colours } from "../../parts/colours";
import { Button, Input } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { useGroups } from "./marks";

type Group = Schema["GroupPublic"];

/** Changes of groups across the tree. */
function useGroupChanges() {
  const project_id = useProjectId();
  const { tell } = useToast();
  const path = { path: { project_id } };
  const one = (group: Group) => ({ path: { project_id, group_id: group.id } });
  return {
    make: useAdding({
      line: "groups of codes",
      label: (body: Schema["GroupCreate"]) => body.name,
      send: (body, key) =>
        data(
          api.POST("/api/v1/projects/{project_id}/codebook/groups", { params: path, body, ...keyed(key) }),
        ),
      change: "groups of codes",
    }),
    change: useChange(
      ({ group, ...body }: { group: Group } & Omit<Schema["GroupUpdate"], "revision">) =>
        data(
          api.PATCH("/api/v1/projects/{project_id}/codebook/groups/{group_id}", {
            params: one(group),
            body: { revision: group.revision, ...body },
          }),
        ),
      undefined,
      "groups of codes",
    ),
    remove: useChange(
      (group: Group) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/codebook/groups/{group_id}", {
            params: { ...one(group), query: { revision: group.revision } },
          }),
        ),
      (done) => tell(`${done.label}. Its codes stay; undo brings it back.`),
      "groups of codes",
    ),
  };
}

/** The groups a code is in. */
export function GroupsOf({ code, writes }: { code: Code; writes: boolean }) {
  const groups = useGroups();
  const { make, change } = useGroupChanges();
  const [name, setName] = useState("");
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 text-[12px] font-bold text-ink2">Groups across the tree</legend>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {groups.map((group) => (
          <label key={group.id} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              disabled={!writes}
              checked={group.codes.includes(code.id)}
              onChange={(event) =>
                change.mutate({
                  group,
                  codes: event.target.checked
                    ? [...group.codes, code.id]
                    : group.codes.filter((one) => one !== code.id),
                })
              }
            />
            {group.name}
          </label>
        ))}
        {writes && (
          <form
            className="flex gap-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              if (!name.trim()) return;
              make.add({ name: name.trim(), codes: [code.id] });
              setName("");
            }}
          >
            <Input
              aria-label="Name of a new group"
              placeholder="A new group"
              value={name}
              maxLength={120}
              onChange={(event) => setName(event.target.value)}
              className="w-[130px]!"
            />
            {name.trim() && <Button type="submit">Make it</Button>}
          </form>
        )}
      </div>
      <WaitingRows of={make} onEdit={(given) => setName(given.name)} />
    </fieldset>
  );
}

/** The colour all of some codes have; none where they differ. */
function commonColour(colours: readonly (number | undefined)[]): number | null {
  return colours.every((one) => one === colours[0]) ? (colours[0] ?? null) : null;
}

/** All groups under the tree: choose one to see its codes alone and to colour them, rename it, delete it. */
export function GroupList({
  chosen,
  writes,
  onChoose,
}: {
  chosen: number | null;
  writes: boolean;
  onChoose: (group: Group | null) => void;
}) {
  const groups = useGroups();
  const { change, remove } = useGroupChanges();
  const { byId } = useCodebook();
  const [renaming, setRenaming] = useState<{ id: number; name: string } | null>(null);
  if (!groups.length) return null;
  return (
    <section
      aria-label="Groups of codes"
      className="max-h-[170px] overflow-auto border-t border-line px-3 py-2"
    >
      <h2 className="mb-1 text-[12px] font-bold text-ink2">Groups</h2>
      {groups.map((group) => (
        <div key={group.id} className="group flex flex-wrap items-center">
          {renaming?.id === group.id ? (
            <Input
              autoFocus
              aria-label="Name of the group"
              value={renaming.name}
              maxLength={120}
              onChange={(event) => setRenaming({ id: group.id, name: event.target.value })}
              onBlur={() => {
                const name = renaming.name.trim();
                if (name && name !== group.name) change.mutate({ group, name });
                setRenaming(null);
              }}
              onKeyDown={(event) => {
                if (event.key === "Escape") setRenaming(null);
                if (event.key !== "Enter" || !renaming.name.trim()) return;
                change.mutate({ group, name: renaming.name.trim() });
                setRenaming(null);
              }}
            />
          ) : (
            <>
              <button
                type="button"
                aria-pressed={chosen === group.id}
                title="Show its codes alone"
                onClick={() => onChoose(chosen === group.id ? null : group)}
                className={`min-w-0 flex-1 truncate rounded px-1.5 py-0.5 text-left ${chosen === group.id ? "bg-tint font-semibold" : "hover:bg-wash"}`}
              >
                {group.name}{" "}
                <span className="font-normal text-ink2">{plural(group.codes.length, "code")}</span>
              </button>
              {writes && (
                <span className="flex shrink-0 gap-2 text-[11.5px] text-ink2 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                  <button type="button" onClick={() => setRenaming({ id: group.id, name: group.name })}>
                    rename
                  </button>
                  <button type="button" onClick={() => remove.mutate(group)} className="hover:text-rust">
                    delete
                  </button>
                </span>
              )}
            </>
          )}
          {writes && chosen === group.id && (
            <div className="basis-full pl-1.5">
              <Colours
                label={`Colour of all codes in ${group.name}`}
                value={commonColour(group.codes.map((id) => byId.get(id)?.colour))}
                onChange={(colour) => change.mutate({ group, colour })}
              />
            </div>
          )}
        </div>
      ))}
    </section>
  );
}
