import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Condition, data, type Schema } from "../api/client";
import { keyed, useAdding } from "../data/adding";
import { keys } from "../data/keys";
import { useChange, useFields, useProjectId, useScope, useSummary } from "../data/project";
import { plural, whole } from "../lib/numbers";
import { conditionLabel } from "../lib/scope";
import { Button, Dialog, Menu, Popover } from "../parts/controls";
import { TextField } from "../parts/fields";
import { useToast } from "../parts/toast";
import { WaitingRows } from "../parts/waitingrows";
import { NarrowForm } from "./narrow";

export function ScopeBar() {
  const { scope, setScope } = useScope();
  const fields = useFields();
  const [narrowing, setNarrowing] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const writes = useSummary().data?.role !== "reader";
  const add = (condition: Condition) => {
    setScope([...scope, condition]);
    setNarrowing(false);
  };
  return (
    <div className="flex min-h-[42px] shrink-0 flex-wrap items-center gap-2 border-b border-line2 bg-sheet px-4 py-1">
      <span className="font-bold text-bottle">Scope</span>
      {scope.length === 0 && (
        <span className="rounded border border-line2 bg-wash px-2 py-0.5">All texts</span>
      )}
      {scope.map((condition, at) => (
        <span
          key={at}
          className="inline-flex max-w-[340px] items-center gap-1.5 rounded border border-line2 bg-wash px-2 py-0.5"
        >
          <span className="truncate">{conditionLabel(condition, fields)}</span>
          <button
            type="button"
            aria-label={`Remove ${conditionLabel(condition, fields)}`}
            onClick={() => setScope(scope.filter((_, i) => i !== at))}
            className="text-ink3 hover:text-rust"
          >
            ×
          </button>
        </span>
      ))}
      <Popover
        open={narrowing}
        onOpenChange={setNarrowing}
        width={330}
        trigger={<Button look="ghost">+ Narrow</Button>}
      >
        <NarrowForm fields={fields} onAdd={add} />
      </Popover>
      {scope.length > 0 && writes && (
        <Button look="ghost" onClick={() => setKeeping(true)}>
          Keep as subcorpus
        </Button>
      )}
      <Kept onTake={setScope} writes={writes} />
      <Size scope={scope} />
      <KeepDialog open={keeping} scope={scope} onClose={() => setKeeping(false)} />
    </div>
  );
}

function Size({ scope }: { scope: readonly Condition[] }) {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const size = useQuery({
    queryKey: keys.of(project_id, "scope", revision, scope),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/scope", {
          params: { path: { project_id } },
          body: { scope: [...scope] },
        }),
      ),
    placeholderData: (before) => before,
    enabled: revision !== undefined,
  });
  if (size.error)
    return (
      <span className="ml-auto text-rust" role="alert">
        {size.error.message}
      </span>
    );
  const found = size.data;
  if (!found) return <span className="ml-auto" />;
  const texts =
    found.texts === found.all_texts
      ? plural(found.texts, "text")
      : `${whole(found.texts)} of ${plural(found.all_texts, "text")}`;
  return (
    <span className="ml-auto text-ink2" data-testid="scope-size">
      {texts}, {plural(found.words, "word")}
      {found.aside ? `; ${whole(found.aside)} excluded` : ""}
    </span>
  );
}

function useSubcorpora(): readonly Schema["SubcorpusPublic"][] {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "subcorpora"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/subcorpora", { params: { path: { project_id } } })),
  });
  return found.data ?? [];
}

function Kept({ onTake, writes }: { onTake: (scope: readonly Condition[]) => void; writes: boolean }) {
  const project_id = useProjectId();
  const kept = useSubcorpora();
  const { tell } = useToast();
  const drop = useChange(
    ({ id, revision }: Schema["SubcorpusPublic"]) =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/subcorpora/{subcorpus_id}", {
          params: { path: { project_id, subcorpus_id: id }, query: { revision } },
        }),
      ),
    () => tell("Subcorpus deleted. Undo brings it back."),
    "subcorpora",
  );
  if (!kept.length) return null;
  return (
    <Menu
      trigger={<Button look="ghost">Subcorpora ▾</Button>}
      items={[
        ...kept.map((one) => ({ label: one.name, onSelect: () => onTake(one.scope) })),
        ...(writes
          ? kept.map((one) => ({
              label: `Delete “${one.name}”`,
              onSelect: () => drop.mutate(one),
              danger: true,
            }))
          : []),
      ]}
    />
  );
}

function KeepDialog({
  open,
  scope,
  onClose,
}: {
  open: boolean;
  scope: readonly Condition[];
  onClose: () => void;
}) {
  const project_id = useProjectId();
  const [name, setName] = useState("");
  const { tell } = useToast();
  const keep = useAdding({
    line: "subcorpora",
    label: (given: Schema["SubcorpusCreate"]) => given.name,
    send: (body, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/subcorpora", {
          params: { path: { project_id } },
          body,
          ...keyed(key),
        }),
      ),
    done: (_, given) => tell(`Kept as “${given.name}”.`),
    change: "subcorpora",
  });
  return (
    <Dialog title="Keep this scope as a subcorpus" open={open} onClose={onClose}>
      <WaitingRows of={keep} onEdit={(given) => setName(given.name)} className="mb-2" />
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.add({ name: name.trim(), scope: [...scope] });
          setName("");
          if (!keep.entries.length) onClose();
        }}
      >
        <TextField
          label="Name"
          hint="It stays current: texts that come later and fit the conditions belong to it."
          value={name}
          onChange={setName}
          autoFocus
          maxLength={200}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button look="main" type="submit" disabled={!name.trim()}>
            Keep
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
