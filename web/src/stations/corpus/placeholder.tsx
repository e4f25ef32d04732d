import { useRef, useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId } from "../../data/project";
import { Button } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { send } from "./upload";

/** A text without words: type or paste them, or attach the file. */
export function Placeholder({ text, writes }: { text: Schema["TextPublic"]; writes: boolean }) {
  const project_id = useProjectId();
  const picker = useRef<HTMLInputElement>(null);
  const { tell } = useToast();
  const [body, setBody] = useState("");
  const fill = useChange(
    () =>
      data(
        api.PUT("/api/v1/projects/{project_id}/texts/{text_id}/body", {
          params: { path: { project_id, text_id: text.id } },
          body: { body, revision: text.revision },
        }),
      ),
    () => tell("Filled. It counts from now on."),
  );
  const attach = useChange(
    (file: File) =>
      send(`/api/v1/projects/${project_id}/texts/${text.id}/attach`, [{ file, path: file.name }]),
    () => tell("Filled from the file. It counts from now on."),
  );
  if (!writes) return <p className="text-ink2">This is a placeholder; its text is not here yet.</p>;
  return (
    <section className="rounded-md border-2 border-dashed border-line2 p-4" data-testid="placeholder">
      <p className="mb-3 text-ink2">
        The text itself is not here yet. Type or paste it, or attach the file it is in (PDF, Word, web page,
        text). What is known of it stays.
      </p>
      <textarea
        aria-label="The text"
        rows={9}
        value={body}
        onChange={(event) => setBody(event.target.value)}
        className="mb-3 w-full rounded-[5px] border border-line2 bg-sheet px-3 py-2 font-serif text-[15px]"
      />
      <div className="flex items-center gap-2">
        <Button look="main" disabled={!body.trim() || fill.isPending} onClick={() => fill.mutate(undefined)}>
          Keep the text
        </Button>
        <span className="text-ink2">or</span>
        <Button disabled={attach.isPending} onClick={() => picker.current?.click()}>
          {attach.isPending ? "Reading the file…" : "Attach a file"}
        </Button>
        <input
          ref={picker}
          type="file"
          hidden
          data-testid="attach-input"
          onChange={(event) => event.target.files?.[0] && attach.mutate(event.target.files[0])}
        />
      </div>
    </section>
  );
}
