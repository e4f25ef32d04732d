import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keyed, useAdding } from "../../data/adding";
import { keys } from "../../data/keys";
import { useChange, useProjectId } from "../../data/project";
import { Button, Menu, Popover } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { type Question, sent } from "./question";

/** Questions kept under a name: asked again, kept, deleted. */
export function KeptQuestions({
  question,
  writes,
  onAsk,
}: {
  question: Question;
  writes: boolean;
  onAsk: (question: Question) => void;
}) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const path = { params: { path: { project_id } } };
  const kept =
    useQuery({
      queryKey: keys.of(project_id, "questions"),
      queryFn: () => data(api.GET("/api/v1/projects/{project_id}/questions", path)),
    }).data ?? [];
  const keep = useAdding({
    line: "questions",
    label: ({ name }: { name: string; question: ReturnType<typeof sent> }) => name,
    send: (body, key) =>
      data(api.POST("/api/v1/projects/{project_id}/questions", { ...path, body, ...keyed(key) })),
    done: (made) => tell(`${made.label}.`),
    change: "questions",
  });
  const drop = useChange(
    (one: Schema["QuestionPublic"]) =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/questions/{question_id}", {
          params: { path: { project_id, question_id: one.id }, query: { revision: one.revision } },
        }),
      ),
    (done) => tell(`${done.label}. Undo brings it back.`),
    "questions",
  );
  return (
    <>
      {kept.length > 0 && (
        <Menu
          trigger={<Button look="ghost">Kept questions ▾</Button>}
          items={[
            ...kept.map((one) => ({ label: one.name, onSelect: () => onAsk(one.question) })),
            ...(writes
              ? kept.map((one) => ({
                  label: `Delete “${one.name}”`,
                  onSelect: () => drop.mutate(one),
                  danger: true,
                }))
              : []),
          ]}
        />
      )}
      {writes && (
        <Popover
          open={open}
          onOpenChange={setOpen}
          width={280}
          trigger={<Button look="ghost">Keep this question</Button>}
        >
          <WaitingRows of={keep} onEdit={(given) => setName(given.name)} className="mb-2" />
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (!name.trim()) return;
              keep.add({ name: name.trim(), question: sent(question) });
              setName("");
              setOpen(false);
            }}
          >
            <TextField
              label="Name"
              value={name}
              onChange={setName}
              maxLength={200}
              hint="A name that exists is replaced by this question."
            />
            <Button look="main" type="submit" disabled={!name.trim()}>
              Keep
            </Button>
          </form>
        </Popover>
      )}
    </>
  );
}
