import { useState } from "react";
import { Link, useLocation } from "react-router";
import { type AnyView, useFindingChanges, useFindings } from "../../data/answers";
import { useProjectId } from "../../data/project";
import { Button, Dialog, Field, Select } from "../../parts/controls";
import { LongField, TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";

/** Keep a view as a finding: with a title, a remark, under a question. */
export function Keep({
  view,
  title,
  drawn = {},
}: {
  view: AnyView;
  /** What it is called unless another name is given. */
  title: string;
  drawn?: Record<string, string>;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button look="main" onClick={() => setOpen(true)}>
        Keep as a finding
      </Button>
      <Dialog title="Keep as a finding" open={open} onClose={() => setOpen(false)}>
        {open && <Form view={view} title={title} drawn={drawn} onClose={() => setOpen(false)} />}
      </Dialog>
    </>
  );
}

function Form({
  view,
  title,
  drawn,
  onClose,
}: {
  view: AnyView;
  title: string;
  drawn: Record<string, string>;
  onClose: () => void;
}) {
  const project = useProjectId();
  const { search } = useLocation();
  const { tell } = useToast();
  const { keep } = useFindingChanges();
  const questions = useFindings().data?.questions ?? [];
  const [called, setCalled] = useState(title);
  const [remark, setRemark] = useState("");
  const [question, setQuestion] = useState("0");
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!called.trim()) return;
        keep.add({ view, title: called, remark, drawn, question_id: Number(question) || null }, (found) =>
          tell(`“${found.title}” is kept among the findings of the Notebook.`),
        );
        onClose();
      }}
    >
      <WaitingRows
        of={keep}
        onEdit={(given) => {
          setCalled(given.title);
          setRemark(given.remark ?? "");
        }}
        className="mb-2"
      />
      <TextField label="Title" value={called} maxLength={300} onChange={setCalled} />
      <LongField label="Remark" value={remark} rows={3} maxLength={100_000} onChange={setRemark} />
      {questions.length > 0 && (
        <Field label="Under the question">
          {(id) => (
            <Select
              id={id}
              value={question}
              choices={[
                { value: "0", label: "none" },
                ...questions.map((one) => ({ value: String(one.id), label: one.words })),
              ]}
              onChange={setQuestion}
            />
          )}
        </Field>
      )}
      <p className="mb-3 text-ink2">
        It keeps today’s numbers. Opened later it shows what the corpus, the dictionary or the coding has
        changed since, and which numbers are others now.
      </p>
      <div className="flex items-center gap-3">
        <Button look="main" type="submit" disabled={!called.trim()}>
          Keep it
        </Button>
        <Link
          to={`/projects/${project}/notebook/findings${search}`}
          className="ml-auto text-bottle hover:underline"
        >
          All findings
        </Link>
      </div>
    </form>
  );
}
