/** Templates of messages: what an owner may keep, how words are filled in, and HTML that says the same and runs nothing. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { OCCASIONS, type Occasion, WORDS } from "./occasions";
import { asHtml, fillIn, templateProblem } from "./render";

const invited = OCCASIONS.invited as Occasion;
const problem = (subject: string, body: string, o: Occasion = invited, values: string[] = []) =>
  templateProblem(o, { subject, body }, values);

describe("a template", () => {
  it("has a subject of one line and a text with what its occasion needs", () => {
    expect(problem("Welcome", "Go to {address}: {link}")).toBeNull();
    expect([problem(" ", "{address} {link}"), problem("Welcome", " ")]).toEqual(Array(2).fill("A message has a subject and a text."));
    expect(problem("Two\nlines", "{address} {link}")).toBe("A subject is one line.");
    expect(problem("{link}", "{address} {link}")).toBe("A link stands in the text, not in the subject.");
    expect(problem("Welcome", "{address}")).toBe(`Without {link}, ${WORDS.link}, the message is of no use.`);
    // Needed in the text: in the subject alone it is of no use.
    expect(problem("{address}", "{link}")).toContain("Without {address}");
  });

  it("uses the words of its occasion, and values of fields where it goes by mail", () => {
    expect(problem("Welcome", "{address} {link} {code}")).toContain("{code} means nothing here. There are: {portal}");
    expect(problem("Welcome", "{address} {link} {person.job}")).toContain("{person.job} means nothing here");
    expect(problem("Welcome {person.job}", "{address} {link}", invited, ["person.job"])).toBeNull();
    const sms = OCCASIONS["sms-code"] as Occasion;
    expect(problem("Code", "{code} {person.job}", sms, ["person.job"])).toContain("{person.job} means nothing here");
    // What is in braces and no word is text.
    expect(problem("Welcome", "{address} {link} { } {Not a word}")).toBeNull();
  });
});

describe("filled in", () => {
  it("an empty word leaves no empty paragraph, and no gap in the subject", () => {
    const said = { portal: "Fernhill", by: "", note: "", values: { "person.job": "Site manager" } };
    expect(fillIn({ subject: "  {by}  {portal}\tnews ", body: "Hello {person.job},\n\n{note}\n\n{portal}\n\n{note}" }, said)).toEqual({
      subject: "Fernhill news",
      body: "Hello Site manager,\n\nFernhill",
    });
  });

  it("words are put in once: what they say in braces stays as it is", () => {
    expect(fillIn({ subject: "{note}", body: "{note} {name}" }, { note: "{name}", name: "Dana" })).toEqual({
      subject: "{name}",
      body: "{name} Dana",
    });
    expect(fillIn({ subject: "x".repeat(300), body: "y" }, {}).subject).toHaveLength(200);
  });
});

describe("as HTML", () => {
  const brand = { name: "Fernhill", primary: "#24507a" };

  it("only an address alone on its line is a link", () => {
    const html = asHtml("See https://a.example now.\nhttps://b.example/?x=1&y=2\n\njavascript:alert(1)", brand);
    expect(html.match(/<a /g)).toHaveLength(1);
    expect(html).toContain('<a href="https://b.example/?x=1&amp;y=2"');
    expect(html.match(/<p /g)).toHaveLength(3); // the name and two paragraphs
  });

  it("no text, whatever its signs, makes another element or attribute", () => {
    const plain = asHtml("x", { name: "x", primary: "x" });
    const marks = (html: string): string => html.replace(/>[^<]*/g, ">").replace(/solid [^"]*/, "solid ");
    fc.assert(
      fc.property(fc.string({ unit: "binary" }), fc.string({ unit: "binary" }), fc.string({ unit: "binary" }), (text, name, primary) => {
        fc.pre(!/\n|https?:/.test(text));
        expect(marks(asHtml(text, { name, primary }))).toBe(marks(plain));
      }),
    );
  });
});
