// @vitest-environment jsdom
import { Editor } from "@tiptap/core";
import { Markdown } from "@tiptap/markdown";
import StarterKit from "@tiptap/starter-kit";
import { describe, expect, it } from "vitest";
import { noteTitle } from "../../data/notes";
import { QuoteNode } from "./quotenode";

function editor(content: string) {
  return new Editor({
    extensions: [
      StarterKit.configure({ link: { protocols: ["text", "code", "passage"] }, underline: false }),
      Markdown,
      QuoteNode,
    ],
    content,
    contentType: "markdown",
  });
}

describe("the text of a note", () => {
  it.each([
    "Plain words",
    "Some **bold** and *italic* words",
    "## A heading\n\nand words",
    "- one\n- two",
    "1. one\n2. two",
    "> said",
    "See [interview](text:12) and [a code](code:3)",
    "As [she said](passage:-8) and [he](passage:5)",
    "[quote](quote:7)\n\nand more",
    "before [quote](quote:7) after",
  ])("comes back as it was written: %s", (written) => {
    expect(editor(written).getMarkdown().trim()).toBe(written);
  });

  it("holds a quote as one thing", () => {
    const found = editor("[any words at all](quote:12)").getJSON();
    expect(JSON.stringify(found)).toContain('{"type":"quote","attrs":{"id":12}}');
  });

  it("makes nothing of scripts", () => {
    const made = editor("<script>alert(1)</script><img src=x onerror=alert(1)>\n\nwords");
    expect(made.getHTML()).not.toMatch(/<script|onerror/);
    expect(made.getText()).toContain("words");
  });
});

describe("how a note is called", () => {
  it("has its title, or its first words without signs and quotes", () => {
    expect(noteTitle({ title: "Mine", body: "x" })).toBe("Mine");
    expect(noteTitle({ title: "", body: "[quote](quote:3)\n\n## Why **so**" })).toBe("Why **so**");
    expect(noteTitle({ title: "", body: "\n" })).toBe("Untitled");
  });
});
