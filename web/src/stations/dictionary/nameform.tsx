import { type FormEvent, useState } from "react";
import { Button, Input } from "../../parts/controls";

export function NameForm({
  label,
  action,
  initial = "",
  onSubmit,
  onCancel,
}: {
  label: string;
  action: string;
  initial?: string;
  onSubmit: (name: string) => void;
  onCancel?: () => void;
}) {
  const [name, setName] = useState(initial);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim()) onSubmit(name.trim());
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
        {onCancel && <Button onClick={onCancel}>Leave it</Button>}
      </div>
    </form>
  );
}
