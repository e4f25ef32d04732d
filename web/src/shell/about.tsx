import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, data } from "../api/client";
import { keys } from "../data/keys";
import { Button, Dialog, Failure, Kbd, Popover, Waiting } from "../parts/controls";

/** What a view shows and how it counts: a few sentences, and the help page that ships. */
export function About({ topic, children }: { topic: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Popover width={360} trigger={<Button look="ghost">About this view</Button>}>
        <div className="mb-2">{children}</div>
        <Button look="ghost" onClick={() => setOpen(true)}>
          Read the help page
        </Button>
      </Popover>
      <HelpDialog topic={topic} open={open} onClose={() => setOpen(false)} />
    </>
  );
}

export function HelpDialog({ topic, open, onClose }: { topic: string; open: boolean; onClose: () => void }) {
  const page = useQuery({
    queryKey: keys.help(topic),
    queryFn: () => data(api.GET("/api/v1/help/{topic}", { params: { path: { topic } } })),
    enabled: open,
    staleTime: Infinity,
  });
  return (
    <Dialog title="Help" open={open} onClose={onClose} wide>
      {page.isPending && <Waiting what="Reading" />}
      {page.error && <Failure error={page.error} />}
      {page.data && (
        <section
          className="prose-help"
          aria-label="Help page"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
          tabIndex={0}
          // biome-ignore lint/security/noDangerouslySetInnerHtml: the help pages ship with the product
          dangerouslySetInnerHTML={{ __html: page.data.html }}
        />
      )}
    </Dialog>
  );
}

const KEYS: readonly [string, string][] = [
  ["Ctrl K", "Go to anything"],
  ["Ctrl Z", "Undo your last change"],
  ["Ctrl Shift Z", "Redo"],
  ["?", "These keys"],
  ["Esc", "Close the evidence, a menu, a dialog"],
  ["Enter", "Dictionary: add the term that is typed. Corpus: open the text in focus"],
  ["↑ ↓ ← →", "Corpus: go through texts and their values"],
  ["Space", "Corpus: choose the text in focus; Shift with ↑ ↓ a range, Ctrl A all"],
  ["F2", "Corpus: change the value in focus"],
  ["F, X, U", "Judging: fits, does not fit, undo the verdict; ↑ ↓ previous and next"],
  ["Delete", "Cloud: take the word in focus out of the picture"],
  ["Ctrl Enter", "Reading: keep a note or a correction"],
  ["[ and ]", "Reading: previous and next text"],
  ["/", "Reading: find words in the text, or go to a paragraph by its number"],
  ["→ ← ↑ ↓", "Coding: choose the next word, the next sentence; with Ctrl and ↑ ↓ the next paragraph"],
  [
    "Shift →",
    "Coding: extend the choice, Shift ← shorten it; with Alt at its beginning. An open passage is extended",
  ],
  [
    "A letter",
    "Coding: find a code for the chosen words; Enter gives it, Shift Enter gives it and asks for another",
  ],
  ["1 to 9", "Coding: give one of the last used codes"],
  [
    "Alt N, W, Q",
    "Coding: while the line is open, a note on the words, other words for them, a quote in a note",
  ],
  ["N, P", "Coding: next and previous passage, of the code that is chosen at the left"],
  ["U", "Coding: next paragraph without a code"],
  ["Delete", "Coding: remove the code from the open passage"],
  ["Alt ↑ ↓ → ←", "Codebook: move a code up, down, under the one before, out"],
  ["Tab", "Compare: go through the dots; Enter opens their passages"],
];

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog title="Keys" open={open} onClose={onClose}>
      {/* the list is longer than some windows: it must be reached by keys to be scrolled */}
      <dl tabIndex={0} aria-label="Keys" className="grid grid-cols-[120px_1fr] gap-y-2">
        {KEYS.map(([key, what]) => (
          <div key={key} className="contents">
            <dt>
              <Kbd>{key}</Kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
