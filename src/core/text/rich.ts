/**
 * Words with emphasis, lists, links and values, as the tree that an editor makes. What is not in the allow-list is no text of ours: it is
 * left out, never passed on. There is no HTML on the way.
 */
import { z } from "zod";

export interface RichMark {
  readonly type: "bold" | "italic" | "link";
  readonly href?: string;
}
export type RichNode =
  | { readonly type: "text"; readonly text: string; readonly marks?: readonly RichMark[] }
  /** A value of the reader, their company or the page's record; `field` null is what they are called. */
  | { readonly type: "value"; readonly of: "reader" | "company" | "record"; readonly field: string | null }
  /** A picture of the portal's own, by its hash; `alt` is empty for a decorative one. */
  | { readonly type: "picture"; readonly hash: string; readonly alt: string }
  | { readonly type: "break" }
  | { readonly type: "rule" }
  | { readonly type: "paragraph" | "quote" | "item" | "bullets" | "numbers"; readonly content: readonly RichNode[] }
  | { readonly type: "heading"; readonly level: 2 | 3; readonly content: readonly RichNode[] };

const MOST_NODES = 3_000;
const MOST_DEPTH = 12;

/** RFC 3986 schemes that are opened: pages of the portal by path, the web, mail and telephones. A backslash is a slash to a browser (WHATWG URL). */
export const safeHref = (href: string): boolean => /^(https?:\/\/|mailto:|tel:|\/(?!\/))[^\s\\]+$/i.test(href) || href === "/";

const PICTURE = /^[0-9a-f]{64}$/;

const mark = z.union([
  z.strictObject({ type: z.enum(["bold", "italic"]) }),
  z.strictObject({
    type: z.literal("link"),
    href: z.string().max(2_000).refine(safeHref, "A link leads to https://, mailto:, tel: or a page here."),
  }),
]);
const node: z.ZodType<RichNode> = z.lazy(() =>
  z.union([
    z.strictObject({ type: z.literal("text"), text: z.string().max(20_000), marks: z.array(mark).max(3).optional() }),
    z.strictObject({ type: z.literal("value"), of: z.enum(["reader", "company", "record"]), field: z.string().max(64).nullable() }),
    z.strictObject({ type: z.literal("picture"), hash: z.string().regex(PICTURE), alt: z.string().max(500) }),
    z.strictObject({ type: z.enum(["break", "rule"]) }),
    z.strictObject({ type: z.enum(["paragraph", "quote", "item", "bullets", "numbers"]), content: z.array(node).max(MOST_NODES) }),
    z.strictObject({ type: z.literal("heading"), level: z.union([z.literal(2), z.literal(3)]), content: z.array(node).max(MOST_NODES) }),
  ]),
) as z.ZodType<RichNode>;

export const richSchema = z
  .array(node)
  .max(MOST_NODES)
  .refine(
    (nodes) => sizeOf(nodes, 0) <= MOST_NODES,
    `A text has ${MOST_NODES} pieces at the most, not nested more than ${MOST_DEPTH} deep.`,
  );
export type Rich = readonly RichNode[];

const contentOf = (n: RichNode): readonly RichNode[] => ("content" in n ? n.content : []);

function sizeOf(nodes: readonly RichNode[], depth: number): number {
  if (depth > MOST_DEPTH) return MOST_NODES + 1;
  return nodes.reduce((sum, n) => sum + 1 + sizeOf(contentOf(n), depth + 1), 0);
}

/** From what an editor or the clipboard has (ProseMirror's JSON): what is known is kept, of the rest its words. */
export function richFrom(doc: unknown, depth = 0): RichNode[] {
  const n = doc as {
    type?: string;
    text?: string;
    attrs?: Record<string, unknown>;
    marks?: { type?: string; attrs?: { href?: unknown } }[];
    content?: unknown[];
  };
  if (typeof n !== "object" || n === null || depth > MOST_DEPTH) return [];
  const content = (): RichNode[] => (Array.isArray(n.content) ? n.content.flatMap((c) => richFrom(c, depth + 1)) : []);
  switch (n.type) {
    case "text":
      return n.text ? [{ type: "text", text: n.text.slice(0, 20_000), ...marksFrom(n.marks) }] : [];
    case "value": {
      const of = n.attrs?.of;
      const field = typeof n.attrs?.field === "string" ? n.attrs.field : null;
      return of === "reader" || of === "company" || of === "record" ? [{ type: "value", of, field }] : [];
    }
    case "picture": {
      const { hash, alt } = n.attrs ?? {};
      if (typeof hash !== "string" || !PICTURE.test(hash)) return [];
      return [{ type: "picture", hash, alt: typeof alt === "string" ? alt.slice(0, 500) : "" }];
    }
    case "hardBreak":
      return [{ type: "break" }];
    case "horizontalRule":
      return [{ type: "rule" }];
    case "paragraph":
      return [{ type: "paragraph", content: content() }];
    case "heading":
      return [{ type: "heading", level: n.attrs?.level === 3 ? 3 : 2, content: content() }];
    case "blockquote":
      return [{ type: "quote", content: content() }];
    case "bulletList":
      return [{ type: "bullets", content: content() }];
    case "orderedList":
      return [{ type: "numbers", content: content() }];
    case "listItem":
      return [{ type: "item", content: content() }];
    default:
      return content();
  }
}

function marksFrom(marks: { type?: string; attrs?: { href?: unknown } }[] | undefined): { marks?: RichMark[] } {
  const kept = (marks ?? []).flatMap((m): RichMark[] => {
    if (m.type === "bold" || m.type === "italic") return [{ type: m.type }];
    return m.type === "link" && typeof m.attrs?.href === "string" && safeHref(m.attrs.href) ? [{ type: "link", href: m.attrs.href }] : [];
  });
  return kept.length > 0 ? { marks: kept.slice(0, 3) } : {};
}

/** The way back, for the editor. */
export function richTo(nodes: Rich): unknown[] {
  const names = {
    quote: "blockquote",
    item: "listItem",
    bullets: "bulletList",
    numbers: "orderedList",
    break: "hardBreak",
    rule: "horizontalRule",
  } as const;
  return nodes.map((n) => {
    if (n.type === "text")
      return {
        type: "text",
        text: n.text,
        ...(n.marks ? { marks: n.marks.map((m) => ({ type: m.type, ...(m.href ? { attrs: { href: m.href } } : {}) })) } : {}),
      };
    if (n.type === "value") return { type: "value", attrs: { of: n.of, field: n.field } };
    if (n.type === "picture") return { type: "picture", attrs: { hash: n.hash, alt: n.alt } };
    const type = names[n.type as keyof typeof names] ?? n.type;
    return {
      type,
      ...(n.type === "heading" ? { attrs: { level: n.level } } : {}),
      ...("content" in n ? { content: richTo(n.content) } : {}),
    };
  });
}

/** The words alone, without what marks them. */
export const richText = (nodes: Rich): string =>
  nodes
    .map((n) => (n.type === "text" ? n.text : richText(contentOf(n))))
    .join(" ")
    .trim();
