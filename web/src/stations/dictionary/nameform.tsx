import type { FormEvent } from "react";
import { useProjectId } from "../../data/project";
import { useKeptWords } from "../../lib/drafts";
import { Button, Input } from "../../parts/controls";

export function NameForm({
  label,
  action,
  initial = "",
  onSubmit,
  onCancel,
  another = false,
}: {
  label: string;
  action: string;
  initial?: string;
  onSubmit: (name: string) => void;
  onCancel?: () => void;
  /** It clears itself and takes the next one. */
  another?: boolean;
}) {
  const project = useProjectId();
  const [name, setName, forget] = useKeptWords(`${project} ${label} ${initial}`, initial);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!name.trim()) return;
    forget();
    onSubmit(name.trim());
    if (another) setName("");
  };
  return (
    <form onSubmit={submit} className="my-1.5" onKeyDown={(event) => event.key === "Escape" && onCancel?.()}>
      <Input
        aria-label={label}
        placeholder={label}
        value={name}
        maxLength={120}
        autoFocus
        onChange={(event) => setName(event.target.value)}
      />
      <div className="mt-1.5 flex justify-center gap-1.5">
        <Button look="main" type="submit" disabled={!name.trim()}>
          {action}
        </Button>
        {onCancel && <Button onClick={onCancel}>{another ? "Close" : "Cancel"}</Button>}
      </div>
    </form>
  );
}
