import { type FocusEvent, type KeyboardEvent, useRef, useState } from "react";

type Typed = HTMLInputElement | HTMLTextAreaElement;

interface Drafted {
  /** What is stored, and the revision it is at. */
  stored: string;
  revision: number;
  /** Stores what was written, on the revision that was seen when the writing began. */
  save: (written: string, revision: number) => Promise<unknown>;
  /** Whether something may be left empty. */
  empty?: boolean;
}

/**
 * Words of something that is there, as they are changed: nothing that arrives writes into them while they are typed.
 * They are stored when the field is left, stay where that is refused, with the reason, and Escape takes them back.
 */
export function useDraft({ stored, revision, save, empty = true }: Drafted) {
  const [draft, setDraft] = useState<{ written: string; revision: number } | null>(null);
  const [refused, setRefused] = useState("");
  const sending = useRef<string | null>(null);
  const value = draft?.written ?? stored;
  const onChange = (written: string) => {
    setRefused("");
    setDraft((now) => ({ written, revision: now?.revision ?? revision }));
  };
  const keep = () => {
    if (draft === null || sending.current === draft.written) return;
    const written = draft.written.trim();
    if (written === stored.trim() || (!empty && !written)) return setDraft(null);
    sending.current = draft.written;
    save(written, draft.revision).then(
      () => {
        // what was typed since stays, on the revision that this one led to
        setDraft((now) => (now?.written === draft.written ? null : now));
        sending.current = null;
      },
      (error: unknown) => {
        sending.current = null;
        setRefused(error instanceof Error ? error.message : String(error));
      },
    );
  };
  const drop = () => {
    setDraft(null);
    setRefused("");
  };
  return {
    value,
    refused,
    typing: draft !== null,
    onChange,
    keep,
    drop,
    /** For a plain field. */
    field: {
      value,
      "aria-invalid": refused !== "",
      title: refused || undefined,
      onChange: (event: { target: { value: string } }) => onChange(event.target.value),
      onBlur: (_: FocusEvent<Typed>) => keep(),
      onKeyDown: (event: KeyboardEvent<Typed>) => {
        if (event.key === "Escape" && draft !== null) {
          event.preventDefault();
          event.stopPropagation();
          drop();
        }
        if (
          event.key === "Enter" &&
          event.currentTarget.tagName === "INPUT" &&
          !event.nativeEvent.isComposing
        )
          keep();
      },
    },
  };
}
