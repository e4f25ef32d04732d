import { Link, useNavigate } from "react-router";
import { noteTitle, useNoteChanges, useNotes } from "../../data/notes";
import { useProjectId } from "../../data/project";
import { date, plural } from "../../lib/numbers";
import { Button, Popover } from "../../parts/controls";

/** Notes on a finding or on a question: those that are there, and a new one. Quotes pulled into the note of a question
 * are the shelf of quotes for it. */
export function NotesOnIt({
  on,
  title,
  writes,
}: {
  on: { finding_id: number } | { question_id: number };
  /** What a new note is called. */
  title: string;
  writes: boolean;
}) {
  const project = useProjectId();
  const navigate = useNavigate();
  const found = useNotes(on).data;
  const { make } = useNoteChanges();
  const open = (id: number) => `/projects/${project}/notebook/notes?note=${id}`;
  const notes = found?.notes ?? [];
  const begin = () => {
    const here = window.location.pathname;
    make.add({ ...on, title: title.slice(0, 200) }, (note) => {
      // whoever has gone elsewhere by then stays there
      if (window.location.pathname === here) void navigate(open(note.id));
    });
  };
  return (
    <Popover
      width={320}
      trigger={
        <button type="button" className="shrink-0 font-semibold text-bottle hover:underline">
          {found?.total ? plural(found.total, "note") : "Notes"}
        </button>
      }
    >
      {!notes.length && (
        <p className="mb-2 text-ink2">
          No notes on it yet. Words of texts can be pulled into a note as quotes that stay linked.
        </p>
      )}
      <ul className="mb-2">
        {notes.map((note) => (
          <li key={note.id} className="flex items-baseline gap-2 py-0.5">
            <Link to={open(note.id)} className="min-w-0 flex-1 truncate text-bottle hover:underline">
              {noteTitle(note)}
            </Link>
            <span className="shrink-0 text-[11.5px] text-ink2">
              {note.quotes.length ? `${plural(note.quotes.length, "quote")}, ` : ""}
              {date(note.made_at)}
            </span>
          </li>
        ))}
      </ul>
      {writes && (
        <Button onClick={begin} disabled={make.entries.some((one) => one.state === "waiting")}>
          Write a note
        </Button>
      )}
    </Popover>
  );
}
