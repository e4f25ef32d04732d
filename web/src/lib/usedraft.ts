import { type FocusEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { keepDraft, keptDraft } from "./drafts";

type Typed = HTMLInputElement | HTMLTextAreaElement;

interface Drafted {
  /** What the words are of, such as "code 3 name": what was typed is found again by it. */
  of: string;
  /** What is stored, and the revision it is at. */
  stored: string;
  revision: number;
  /** Stores what was written, on the revision that was seen when the writing began. */
  save: (written: string, revision: number) => Promise<unknown>;
  /** Whether something may be left empty. */
  empty?: boolean;
}
interface Draft {
  written: string;
  revision: number;
}

/**
 * Words of something that is there, as they are changed: nothing that arrives writes into them while they are typed.
 * They are stored when the field is left in any way, and stay where that is refused, with the reason. Escape shows what
 * is stored and sets aside what was typed; Ctrl Z brings it back. What a reload interrupts is there afterwards.
 */
export function useDraft({ of, stored, revision, save, empty = true }: Drafted) {
  const [draft, setDraft] = useState<Draft | null>(() => read(of));
  const [refused, setRefused] = useState("");
  const sending = useRef<string | null>(null);
  const aside = useRef<Draft | null>(null);
  const value = draft?.written ?? stored;
  const put = (next: Draft | null) => {
    setDraft(next);
    keepDraft(of, next ? JSON.stringify(next) : undefined);
  };
  const onChange = (written: string) => {
    setRefused("");
    put({ written, revision: draft?.revision ?? revision });
  };
  const keep = () => {
    if (draft === null || sending.current === draft.written) return;
    const written = draft.written.trim();
    if (written === stored.trim() || (!empty && !written)) return put(null);
    sending.current = draft.written;
    save(written, draft.revision).then(
      () => {
        // what was typed since stays, on the revision that this one led to
        setDraft((now) => (now?.written === draft.written ? null : now));
        if (read(of)?.written === draft.written) keepDraft(of, undefined);
        sending.current = null;
      },
      (error: unknown) => {
        sending.current = null;
        setRefused(error instanceof Error ? error.message : String(error));
      },
    );
  };
  const drop = () => {
    aside.current = draft;
    put(null);
    setRefused("");
  };
  const latest = useRef(keep);
  useEffect(() => {
    latest.current = keep;
  });
  // a field that goes, by a way that leaves it no time, stores what it has
  useEffect(() => {
    return () => latest.current();
  }, []);
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
        if (event.key === "z" && (event.ctrlKey || event.metaKey) && draft === null && aside.current) {
          event.preventDefault();
          event.stopPropagation();
          put(aside.current);
          aside.current = null;
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

function read(of: string): Draft | null {
  const found = keptDraft(of);
  if (found === undefined) return null;
  try {
    const draft = JSON.parse(found) as Draft;
    return typeof draft.written === "string" && typeof draft.revision === "number" ? draft : null;
  } catch {
    return null;
  }
}
