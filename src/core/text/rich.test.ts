import { describe, expect, it } from "vitest";
import { richFrom, richSchema, richText, richTo, safeHref } from "./rich";

const doc = (...content: unknown[]) => ({ type: "doc", content });
const text = (t: string, ...marks: unknown[]) => ({ type: "text", text: t, marks });

describe("words of an owner's", () => {
  it("keeps what is known, and of the rest its words alone", () => {
    const pasted = doc(
      { type: "heading", attrs: { level: 1 }, content: [text("Hello")] },
      {
        type: "paragraph",
        content: [text("bold", { type: "bold" }), text("struck", { type: "strike" }), { type: "image", attrs: { src: "javascript:x" } }],
      },
      { type: "script", content: [text("alert(1)")] },
      {
        type: "table",
        content: [{ type: "tableRow", content: [{ type: "tableCell", content: [{ type: "paragraph", content: [text("cell")] }] }] }],
      },
    );
    expect(richFrom(pasted)).toEqual([
      { type: "heading", level: 2, content: [{ type: "text", text: "Hello" }] },
      {
        type: "paragraph",
        content: [
          { type: "text", text: "bold", marks: [{ type: "bold" }] },
          { type: "text", text: "struck" },
        ],
      },
      { type: "text", text: "alert(1)" },
      { type: "paragraph", content: [{ type: "text", text: "cell" }] },
    ]);
  });
  it("links lead to the web, to mail, to telephones and to pages here; to nothing that runs", () => {
    for (const good of ["https://a.example/", "http://a.example", "mailto:a@b.example", "tel:+441632960000", "/requests", "/"])
      expect([good, safeHref(good)]).toEqual([good, true]);
    for (const bad of [
      "javascript:alert(1)",
      "JaVaScRiPt:alert(1)",
      " javascript:x",
      "data:text/html,x",
      "vbscript:x",
      "//elsewhere.example",
      "/\\elsewhere.example",
      "https:// x",
      "file:///etc/passwd",
      "",
    ])
      expect([bad, safeHref(bad)]).toEqual([bad, false]);
    expect(richFrom(doc({ type: "paragraph", content: [text("x", { type: "link", attrs: { href: "javascript:x" } })] }))).toEqual([
      { type: "paragraph", content: [{ type: "text", text: "x" }] },
    ]);
    expect(richSchema.safeParse([{ type: "text", text: "x", marks: [{ type: "link", href: "javascript:x" }] }]).success).toBe(false);
  });
  it("goes into the editor and comes back the same, from right to left too", () => {
    const nodes = richSchema.parse([
      { type: "paragraph", content: [{ type: "text", text: "שלום " }, { type: "value", of: "reader", field: null }, { type: "break" }] },
      {
        type: "bullets",
        content: [
          { type: "item", content: [{ type: "paragraph", content: [{ type: "text", text: "one", marks: [{ type: "italic" }] }] }] },
        ],
      },
      { type: "rule" },
    ]);
    expect(richFrom({ type: "doc", content: richTo(nodes) })).toEqual(nodes);
    expect(richText(nodes)).toContain("שלום");
  });
  it("refuses what is huge or endlessly nested, and cuts it off when it is pasted", () => {
    const deep = Array.from({ length: 40 }).reduce<unknown>((inner) => ({ type: "quote", content: [inner] }), { type: "text", text: "x" });
    expect(richSchema.safeParse([deep]).success).toBe(false);
    expect(richSchema.safeParse(Array.from({ length: 5_000 }, () => ({ type: "rule" }))).success).toBe(false);
    let nested: unknown = text("x");
    for (let i = 0; i < 5_000; i++) nested = { type: "blockquote", content: [nested] };
    expect(richSchema.safeParse(richFrom(doc(nested))).success).toBe(true);
  });
});

it("keeps pictures by their hash alone, and comes back as it was", () => {
  const hash = "0a".repeat(32);
  const doc = (attrs: unknown) => ({ type: "doc", content: [{ type: "picture", attrs }] });
  const [kept] = richFrom(doc({ hash, alt: "A sign", src: "https://elsewhere.example/x.png", onerror: "alert(1)" }));
  expect(kept).toEqual({ type: "picture", hash, alt: "A sign" });
  expect(richSchema.safeParse([kept]).success).toBe(true);
  expect(richFrom({ type: "doc", content: richTo([kept!]) })).toEqual([kept]);
  for (const bad of ["../../x", "javascript:alert(1)", `${hash}x`, 7]) expect(richFrom(doc({ hash: bad, alt: "" }))).toEqual([]);
  expect(richSchema.safeParse([{ type: "picture", hash: "../x", alt: "" }]).success).toBe(false);
});
