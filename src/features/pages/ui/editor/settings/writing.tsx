"use client";

import type { Editor } from "@tiptap/core";
import { EditorContent, mergeAttributes, Node, useEditor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { Bold, Heading2, Italic, Link2, List, ListOrdered, Quote } from "lucide-react";
import type { ReactNode } from "react";
import { BEGINNING } from "@/core/pages/begin";
import { type Rich, richFrom, richText, richTo, safeHref } from "@/core/text/rich";
import { useOffered } from "../around";
import { AddPicture } from "./add-picture";

/** A value of the reader, their company or the record: shown by its name while writing, filled in for whoever reads. */
const Value = Node.create({
  name: "value",
  group: "inline",
  inline: true,
  atom: true,
  addAttributes: () => ({ of: { default: "reader" }, field: { default: null }, called: { default: "" } }),
  parseHTML: () => [{ tag: "span[data-value]" }],
  renderHTML: ({ HTMLAttributes, node }) => [
    "span",
    mergeAttributes({ "data-value": "", class: "tag" }, { title: HTMLAttributes.of as string }),
    String(node.attrs.called || WORDS[node.attrs.of as keyof typeof WORDS]),
  ],
});
/** A picture of the portal's own. What it shows is told in words beside it, for who cannot see it. */
const pictureIn = (portal: string) =>
  Node.create({
    name: "picture",
    group: "block",
    atom: true,
    addAttributes: () => ({ hash: { default: "" }, alt: { default: "" } }),
    renderHTML: ({ node }) => [
      "img",
      { src: `/portals/${portal}/-/brand/${node.attrs.hash}`, alt: String(node.attrs.alt), class: "max-w-full h-auto rounded-box" },
    ],
  });

const WORDS = { reader: "reader's name", company: "company's name", record: "record's name" };

export function Writing({ body, onChange }: { body: Rich; onChange: (body: Rich) => void }) {
  const { portal, people, tables, about } = useOffered();
  const editor = useEditor({
    immediatelyRender: false,
    // What a new text begins with is written over by the first key.
    autofocus: richText(body) === BEGINNING ? "all" : false,
    extensions: [
      StarterKit.configure({
        heading: { levels: [2, 3] },
        code: false,
        codeBlock: false,
        strike: false,
        underline: false,
        link: { openOnClick: false, isAllowedUri: (url) => safeHref(url) },
      }),
      Value,
      pictureIn(portal),
    ],
    content: { type: "doc", content: richTo(body) as never[] },
    editorProps: {
      attributes: {
        "aria-label": "The text",
        class: "rich min-h-40 rounded-field border border-base-300 bg-base-100 p-3",
        role: "textbox",
        "aria-multiline": "true",
      },
    },
    onUpdate: ({ editor: e }) => onChange(richFrom(e.getJSON())),
  });
  if (!editor) return null;
  const button = (label: string, icon: ReactNode, on: boolean, press: () => void) => (
    <button
      type="button"
      className={`btn btn-ghost btn-xs btn-square ${on ? "btn-active" : ""}`}
      aria-label={label}
      aria-pressed={on}
      onClick={press}
    >
      {icon}
    </button>
  );
  const link = (): void => {
    const href = window.prompt(
      "Where does it lead? A page here begins with /, others with https://",
      String(editor.getAttributes("link").href ?? ""),
    );
    if (href === null) return;
    if (href === "") editor.chain().focus().unsetLink().run();
    else if (safeHref(href)) editor.chain().focus().setLink({ href }).run();
  };
  const companies = tables.find((t) => t.id === "t_companies");
  const values = [
    { of: "reader", field: null, called: "The reader's name" },
    ...people.fields.map((f) => ({ of: "reader", field: f.id, called: `Reader: ${f.name}` })),
    { of: "company", field: null, called: "The company's name" },
    ...(companies?.fields ?? []).map((f) => ({ of: "company", field: f.id, called: `Company: ${f.name}` })),
    ...(about?.fields ?? []).map((f) => ({ of: "record", field: f.id, called: `${about!.singular}: ${f.name}` })),
  ];
  return <WritingTools button={button} editor={editor} link={link} portal={portal} values={values} />;
}

interface WritingToolsProps {
  readonly button: (label: string, icon: ReactNode, on: boolean, press: () => void) => ReactNode;
  readonly editor: Editor;
  readonly link: () => void;
  readonly portal: string;
  readonly values: ({ of: string; field: string; called: string } | { of: string; field: null; called: string })[];
}

/** Buttons and the text itself. */
function WritingTools({ button, editor, link, portal, values }: WritingToolsProps) {
  return (
    <div className="grid gap-2">
      <div role="toolbar" aria-label="How it looks" className="flex flex-wrap gap-1">
        {button("Bold", <Bold size={14} aria-hidden />, editor.isActive("bold"), () => editor.chain().focus().toggleBold().run())}
        {button("Italic", <Italic size={14} aria-hidden />, editor.isActive("italic"), () => editor.chain().focus().toggleItalic().run())}
        {button("Heading", <Heading2 size={14} aria-hidden />, editor.isActive("heading"), () =>
          editor.chain().focus().toggleHeading({ level: 2 }).run(),
        )}
        {button("List", <List size={14} aria-hidden />, editor.isActive("bulletList"), () =>
          editor.chain().focus().toggleBulletList().run(),
        )}
        {button("Numbered list", <ListOrdered size={14} aria-hidden />, editor.isActive("orderedList"), () =>
          editor.chain().focus().toggleOrderedList().run(),
        )}
        {button("Quotation", <Quote size={14} aria-hidden />, editor.isActive("blockquote"), () =>
          editor.chain().focus().toggleBlockquote().run(),
        )}
        {button("Link", <Link2 size={14} aria-hidden />, editor.isActive("link"), link)}
      </div>
      <EditorContent editor={editor} />
      <AddPicture portal={portal} onAdd={(attrs) => editor.chain().focus().insertContent({ type: "picture", attrs }).run()} />
      <select
        aria-label="Put a value in"
        className="select select-sm w-full"
        value=""
        onChange={(e) => {
          const v = values[Number(e.target.value)];
          if (v) editor.chain().focus().insertContent({ type: "value", attrs: v }).run();
        }}
      >
        <option value="">Put a value in…</option>
        {values.map((v, i) => (
          <option key={`${v.of} ${v.field}`} value={i}>
            {v.called}
          </option>
        ))}
      </select>
    </div>
  );
}
