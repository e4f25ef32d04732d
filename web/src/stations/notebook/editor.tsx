import { Markdown } from "@tiptap/markdown";
import { type Editor, EditorContent, useEditor, useEditorState } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, data } from "../../api/client";
import type { Note } from "../../data/notes";
import { useProjectId } from "../../data/project";
import { Popover } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { LinkForm } from "./linkform";
import { QuoteNode, Quotes } from "./quotenode";

/** As many letters as a note can have (store/notes.py). */
const MOST = 200_000;
const OWN = ["text", "code", "passage"];

/** The formatted text of a note; it is Markdown outside of here. */
export function NoteEditor({
  note,
  body,
  writes,
  onWrite,
}: {
  note: Note;
  /** What is written; another text than what was last told by `onWrite` takes its place. */
  body: string;
  writes: boolean;
  onWrite: (body: string) => void;
}) {
  const project = useProjectId();
  const navigate = useNavigate();
  const { fail } = useToast();
  const told = useRef(body);
  const quotes = useMemo(() => new Map(note.quotes.map((one) => [one.id, one])), [note.quotes]);
  const openPassage = (passage_id: number) =>
    data(
      api.GET("/api/v1/projects/{project_id}/passages/{passage_id}", {
        params: { path: { project_id: project, passage_id } },
      }),
    ).then(
      (one) => navigate(`/projects/${project}/coding/read/${one.text_id}?paragraph=${one.paragraph}`),
      fail,
    );
  const editor = useEditor({
    extensions: [
      StarterKit.configure({
        link: {
          openOnClick: false,
          protocols: OWN,
          isAllowedUri: (url, { defaultValidate }) => allowed(url) || defaultValidate(url),
        },
        underline: false,
      }),
      Markdown,
      QuoteNode,
    ],
    content: body,
    contentType: "markdown",
    editable: writes,
    editorProps: {
      attributes: {
        "aria-label": "The note",
        role: "textbox",
        "aria-multiline": "true",
        class: "note-body min-h-[220px] outline-none!",
      },
      handlePaste: (_, event) => {
        const length = event.clipboardData?.getData("text/plain").length ?? 0;
        if (length <= MOST) return false;
        fail(
          new Error(
            `A note can have at most ${MOST.toLocaleString("en")} characters; what was to be pasted has ${length.toLocaleString("en")}. Import it as a text instead. The note is as it was.`,
          ),
        );
        return true;
      },
      handleClick: (_, __, event) => {
        const address = (event.target as HTMLElement).closest("a")?.getAttribute("href") ?? "";
        const [kind, id] = address.split(":");
        if (kind === "passage") void openPassage(Number(id));
        else if (kind === "text") void navigate(`/projects/${project}/coding/read/${id}`);
        else if (kind === "code") void navigate(`/projects/${project}/coding/codebook?code=${id}`);
        else if ((event.ctrlKey || event.metaKey) && /^https?:/.test(address))
          window.open(address, "_blank", "noopener,noreferrer");
        else return false;
        event.preventDefault();
        return true;
      },
    },
    onUpdate: ({ editor }) => {
      told.current = editor.getMarkdown();
      onWrite(told.current);
    },
  });
  // what somebody else wrote, or what was quoted from elsewhere, takes the place of what is shown
  useEffect(() => {
    if (!editor || body === told.current) return;
    told.current = body;
    editor.commands.setContent(body, { contentType: "markdown", emitUpdate: false });
  }, [editor, body]);
  if (!editor) return null;
  return (
    <Quotes.Provider value={quotes}>
      {writes && <Tools editor={editor} />}
      <EditorContent editor={editor} className="mt-2" />
    </Quotes.Provider>
  );
}

/** Links lead to the web, or to texts, codes and passages of the project. */
function allowed(url: string): boolean {
  return /^((text|code):\d+|passage:-?\d+)$/.test(url);
}

const TOOLS: readonly { label: string; name: string; key: string; act: (editor: Editor) => void }[] = [
  { label: "Bold", name: "bold", key: "Ctrl B", act: (e) => e.chain().focus().toggleBold().run() },
  { label: "Italic", name: "italic", key: "Ctrl I", act: (e) => e.chain().focus().toggleItalic().run() },
  {
    label: "Heading",
    name: "heading",
    key: "",
    act: (e) => e.chain().focus().toggleHeading({ level: 2 }).run(),
  },
  { label: "List", name: "bulletList", key: "", act: (e) => e.chain().focus().toggleBulletList().run() },
  {
    label: "Numbers",
    name: "orderedList",
    key: "",
    act: (e) => e.chain().focus().toggleOrderedList().run(),
  },
];

function Tools({ editor }: { editor: Editor }) {
  const [linking, setLinking] = useState(false);
  const active = useEditorState({
    editor,
    selector: ({ editor }) => [...TOOLS.map((one) => editor.isActive(one.name)), editor.isActive("link")],
  });
  const look = (on: boolean | undefined) =>
    `rounded px-2 py-0.5 ${on ? "bg-tint font-semibold text-bottle" : "text-ink2 hover:bg-wash hover:text-ink"}`;
  return (
    <div role="toolbar" aria-label="Formatting" className="flex gap-1 border-y border-line py-1">
      {TOOLS.map((tool, at) => (
        <button
          key={tool.name}
          type="button"
          aria-pressed={active[at] ?? false}
          title={tool.key || undefined}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => tool.act(editor)}
          className={look(active[at])}
        >
          {tool.label}
        </button>
      ))}
      <Popover
        open={linking}
        onOpenChange={setLinking}
        width={320}
        trigger={
          <button type="button" className={look(active[TOOLS.length])}>
            Link…
          </button>
        }
      >
        <LinkForm
          onLink={(address, words) => {
            setLinking(false);
            const chain = editor.chain().focus();
            if (editor.state.selection.empty)
              chain
                .insertContent([
                  { type: "text", text: words, marks: [{ type: "link", attrs: { href: address } }] },
                  { type: "text", text: " " },
                ])
                .run();
            else chain.setLink({ href: address }).run();
          }}
        />
      </Popover>
    </div>
  );
}
