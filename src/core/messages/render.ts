/** A template filled with words: as plain text, and as a page of HTML that says the same. */
import { type Occasion, WORDS, type Word } from "./occasions";

export interface Template {
  readonly subject: string;
  readonly body: string;
}
export type Said = Partial<Record<Word, string>> & { readonly values?: Readonly<Record<string, string>> };

const PLACE = /\{([a-z][a-z0-9.-]*)\}/g;

/** Values of the receiver's own record, and of their company's, by the field's address: {person.job}, {company.town}. */
export const VALUE = /\{(person|company)\.[a-z0-9-]+\}/;

/**
 * Why a template cannot be kept, as a sentence: it uses a word that this occasion does not have, or lacks one that it needs. `values` are the
 * words of fields that this portal has.
 */
export function templateProblem(o: Occasion, t: Template, values: readonly string[] = []): string | null {
  if (t.subject.trim() === "" || t.body.trim() === "") return "A message has a subject and a text.";
  if (/[\r\n]/.test(t.subject)) return "A subject is one line.";
  if (t.subject.includes("{link}")) return "A link stands in the text, not in the subject.";
  for (const [, word] of `${t.subject} ${t.body}`.matchAll(PLACE))
    if (!(o.words as readonly string[]).includes(word!) && !(o.channel === "mail" && values.includes(word!)))
      return `{${word}} means nothing here. There are: ${o.words.map((w) => `{${w}}`).join(", ")}.`;
  const lacking = o.needs.find((w) => !t.body.includes(`{${w}}`));
  return lacking ? `Without {${lacking}}, ${WORDS[lacking]}, the message is of no use.` : null;
}

/** Words that are empty leave no empty paragraph behind. */
export function fillIn(t: Template, said: Said): Template {
  const put = (text: string): string => text.replace(PLACE, (_, word: string) => said[word as Word] ?? said.values?.[word] ?? "");
  return {
    subject: put(t.subject).replace(/\s+/g, " ").trim().slice(0, 200),
    body: put(t.body)
      .replace(/\n{3,}/g, "\n\n")
      .trim(),
  };
}

const escaped = (s: string): string => s.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");

/** Text as paragraphs; an address alone on its line becomes a link. No pictures: nothing is fetched. */
export function asHtml(body: string, brand: { readonly name: string; readonly primary: string }): string {
  const paragraphs = body.split(/\n\n+/).map((p) =>
    p
      .split("\n")
      .map((line) =>
        /^https?:\/\/\S+$/.test(line)
          ? `<a href="${escaped(line)}" style="color:${escaped(brand.primary)};word-break:break-all">${escaped(line)}</a>`
          : escaped(line),
      )
      .join("<br>"),
  );
  const text = paragraphs.map((p) => `<p style="margin:0 0 1em">${p}</p>`).join("\n");
  return `<!doctype html><html><body style="margin:0;padding:24px;background:#f6f4ee;font:16px/1.5 sans-serif;color:#1d1d1b"><div style="max-width:34em;margin:auto;padding:24px;background:#fff;border-top:4px solid ${escaped(brand.primary)}"><p style="margin:0 0 1em;font-weight:bold">${escaped(brand.name)}</p>
${text}
</div></body></html>`;
}
