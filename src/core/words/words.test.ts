import { describe, expect, it } from "vitest";
import { ENGLISH } from "./english";
import { ON_THE_CLIENT } from "./english-client";
import { type Catalogue, catalogueOf, clientWordsIn, makeSay, sayIn } from "./words";

/** Every value that any message takes, so that all can be formatted. */
const ANY = new Proxy(
  {},
  { get: (_, name) => (/^(mail|door|way|b)$/.test(String(name)) ? (x: string[]) => x.join("") : 2), has: () => true },
);

describe("the catalogue", () => {
  it("every message of it can be read and said", () => {
    const say = sayIn("en-GB") as (key: string, values: object) => string;
    for (const key of Object.keys(ENGLISH)) expect([key, say(key, ANY)]).toEqual([key, expect.not.stringMatching(/[{}]|^$/)]);
  });
  it("what goes to the browser takes no values", () => {
    for (const words of Object.values(ON_THE_CLIENT)) expect(words).not.toMatch(/[{}<>]/);
    expect(clientWordsIn("en-US")).toEqual(ON_THE_CLIENT);
  });
});

describe("saying", () => {
  // Plural rules: Unicode CLDR 47, Language Plural Rules: English has "one" for 1 alone; Polish "few" for 2 to 4.
  it("takes the plural form and the numbers of the locale", () => {
    expect(sayIn("en-GB")("standing.trial", { days: 1 })).toBe("Trial, 1 day left");
    expect(sayIn("en-GB")("standing.trial", { days: 0 })).toBe("Trial, 0 days left");
    expect(sayIn("en-GB")("home.all", { total: 1239, things: "Signs" })).toBe("All 1,239 Signs");
    expect(sayIn("de-DE")("home.all", { total: 1239, things: "Signs" })).toBe("All 1.239 Signs");
  });
  it("a second language is another catalogue, chosen by the locale's language", () => {
    const polish: Catalogue = {
      ...ENGLISH,
      "standing.trial": "Okres próbny, {days, plural, one {# dzień} few {# dni} many {# dni} other {# dnia}}",
    };
    const languages = { en: ENGLISH, pl: polish };
    const say = makeSay("pl-PL", catalogueOf("pl-PL", languages));
    expect([1, 2, 1.5].map((days) => say("standing.trial", { days }))).toEqual([
      "Okres próbny, 1 dzień",
      "Okres próbny, 2 dni",
      "Okres próbny, 1,5 dnia",
    ]);
    expect(catalogueOf("cy", languages)).toBe(ENGLISH);
  });
  it("a value is a value, whatever it looks like, and stays outside the marks", () => {
    expect(sayIn("en")("home.welcome", { person: "<b>{x, plural, other {#}}</b>" })).toBe("Welcome, <b>{x, plural, other {#}}</b>.");
    const parts = sayIn("en").marked("plans.to-change", { contact: "studio@fernhill.example" }, { mail: (x) => ({ to: x }) });
    expect(parts).toEqual(["To change, write to ", { to: "studio@fernhill.example" }, "."]);
  });
});
