/** Contacts and events as rows, by the examples that RFC 6350 (section 8) and RFC 5545 (section 3.6.1) print; both from memory. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { contacts, events } from "./cards";

const lines = (...of: string[]): string => `${of.join("\r\n")}\r\n`;

const AUTHOR = lines(
  "BEGIN:VCARD",
  "VERSION:4.0",
  "FN:Simon Perreault",
  "N:Perreault;Simon;;;ing. jr,M.Sc.",
  "BDAY:--0203",
  "ANNIVERSARY:20090808T1430-0500",
  "GENDER:M",
  "LANG;PREF=1:fr",
  "LANG;PREF=2:en",
  "ORG;TYPE=work:Viagenie",
  "ADR;TYPE=work:;Suite D2-630;2875 Laurier;",
  " Quebec;QC;G1V 2M2;Canada",
  'TEL;VALUE=uri;TYPE="work,voice";PREF=1:tel:+1-418-656-9254;ext=102',
  'TEL;VALUE=uri;TYPE="work,cell,voice,video,text":tel:+1-418-262-6501',
  "EMAIL;TYPE=work:simon.perreault@viagenie.ca",
  "GEO;TYPE=work:geo:46.772673,-71.282945",
  "UID:urn:uuid:f81d4fae-7dec-11d0-a765-00a0c91e6bf6",
  "END:VCARD",
);

const REVIEW = lines(
  "BEGIN:VCALENDAR",
  "VERSION:2.0",
  "PRODID:-//hacksw/handcal//NONSGML v1.0//EN",
  "BEGIN:VEVENT",
  "UID:19970901T130000Z-123401@example.com",
  "DTSTAMP:19970901T130000Z",
  "DTSTART:19970903T163000Z",
  "DTEND:19970903T190000Z",
  "SUMMARY:Annual Employee Review",
  "CLASS:PRIVATE",
  "CATEGORIES:BUSINESS,HUMAN RESOURCES",
  "END:VEVENT",
  "END:VCALENDAR",
);

const FESTIVAL = lines(
  "BEGIN:VCALENDAR",
  "VERSION:2.0",
  "PRODID:-//hacksw/handcal//NONSGML v1.0//EN",
  "BEGIN:VEVENT",
  "UID:20070423T123432Z-541111@example.com",
  "DTSTAMP:20070423T123432Z",
  "DTSTART;VALUE=DATE:20070628",
  "DTEND;VALUE=DATE:20070709",
  "SUMMARY:Festival International de Jazz de Montreal",
  "TRANSP:TRANSPARENT",
  "END:VEVENT",
  "END:VCALENDAR",
);

describe("a contact", () => {
  it("is read by the first of each property; a telephone number is written without its scheme", () => {
    expect(contacts.read(AUTHOR)).toEqual({
      uid: "urn:uuid:f81d4fae-7dec-11d0-a765-00a0c91e6bf6",
      name: "Simon Perreault",
      email: "simon.perreault@viagenie.ca",
      phone: "+1-418-656-9254;ext=102",
      organisation: "Viagenie",
      title: "",
      note: "",
    });
  });
  it("keeps all that is no column when one column is changed", () => {
    const noted = AUTHOR.replace("END:VCARD", "item1.NOTE;X-OWN=1:One\\, two\\; three\r\nX-OURS:a\\;b\r\nEND:VCARD");
    const is = contacts.write(noted, "unused", { title: "Engineer" });
    expect(is.replace("TITLE:Engineer\r\n", "")).toBe(noted);
    expect(is).toContain("TITLE:Engineer");
  });
  it("has a value put anew in its own line, with what the line says beside it", () => {
    const is = contacts.write(AUTHOR, "unused", { phone: "+44 1632 960001", organisation: "Fernhill" });
    const [was, now] = [AUTHOR, is].map((t) => t.split("\r\n"));
    expect(now!.length).toBe(was!.length);
    expect(now!.filter((l, i) => l !== was![i])).toEqual([
      expect.stringMatching(/^ORG;TYPE=work:Fernhill$/),
      expect.stringMatching(/^TEL;.*PREF=1.*:\+44 1632 960001$/),
    ]);
  });
  it("takes line ends into a value and never lets them end its line", () => {
    for (const end of ["\n", "\r\n", "\r"]) {
      const is = contacts.write(AUTHOR, "unused", { note: `One${end}UID:stolen`, name: `Simon${end}END:VCARD` });
      expect(is).not.toMatch(/\r(?!\n)|[\r\n](UID:stolen|END:VCARD\r\n.)/);
      expect(contacts.read(is)).toMatchObject({ note: "One\nUID:stolen", name: "Simon\nEND:VCARD", uid: contacts.read(AUTHOR)!.uid });
    }
  });
  it("changes the first address and leaves the others", () => {
    const two = AUTHOR.replace("END:VCARD", "EMAIL;TYPE=home:simon@example.com\r\nEND:VCARD");
    const is = contacts.write(two, "unused", { email: "new@example.com" });
    expect(is).toContain("new@example.com");
    expect(is).toContain("simon@example.com");
    expect(is).not.toContain("simon.perreault@viagenie.ca");
  });
  it("is emptied of what is emptied, but never of its name", () => {
    expect(contacts.read(contacts.write(AUTHOR, "unused", { email: "" }))!.email).toBe("");
    expect(() => contacts.write(AUTHOR, "unused", { name: "" })).toThrow("needs a name");
  });
  it("is nothing where the text is another thing, or nothing at all", () => {
    for (const text of [REVIEW, "", "BEGIN:VCARD", "no card"]) expect(contacts.read(text)).toBeNull();
  });
  it("made of any words reads as the same words", () => {
    const words = fc.string({ minLength: 1, maxLength: 60, unit: "grapheme" }).map((s) => s.replace(/[\p{Cc}\\]/gu, "").trim());
    const row = fc.record({ name: words.filter((s) => s !== ""), title: words, note: words, organisation: words });
    fc.assert(
      fc.property(row, (given) => {
        const made = contacts.write(null, "u-1", given);
        expect(contacts.read(made)).toEqual({ uid: "u-1", email: "", phone: "", ...given });
      }),
    );
  });
});

describe("an event", () => {
  it("is read with its moments in UTC", () => {
    expect(events.read(REVIEW)).toEqual({
      uid: "19970901T130000Z-123401@example.com",
      title: "Annual Employee Review",
      starts: "1997-09-03T16:30:00Z",
      ends: "1997-09-03T19:00:00Z",
      place: "",
      note: "",
      repeats: "",
    });
  });
  it("of whole days ends on its last day, which the format does not write", () => {
    expect(events.read(FESTIVAL)).toMatchObject({ starts: "2007-06-28", ends: "2007-07-08" });
    const moved = events.write(FESTIVAL, "unused", { starts: "2007-06-30", ends: "2007-07-01" });
    expect(moved).toContain("DTEND;VALUE=DATE:20070702");
    expect(events.read(moved)).toMatchObject({ starts: "2007-06-30", ends: "2007-07-01" });
    expect(moved).toContain("TRANSP:TRANSPARENT");
  });
  it("that says how long it takes has an end; an end that is put takes the place of that", () => {
    const takes = REVIEW.replace("DTEND:19970903T190000Z", "DURATION:PT2H30M");
    expect(events.read(takes)).toEqual(events.read(REVIEW));
    const days = FESTIVAL.replace("DTEND;VALUE=DATE:20070709", "DURATION:P11D");
    expect(events.read(days)).toMatchObject({ starts: "2007-06-28", ends: "2007-07-08" });
    const ended = events.write(takes, "unused", { ends: "1997-09-03T20:00:00Z" });
    expect([ended.includes("DURATION"), events.read(ended)!.ends]).toEqual([false, "1997-09-03T20:00:00Z"]);
    expect(events.read(events.write(takes, "unused", { ends: "" }))!.ends).toBe("");
    // Moved, it takes as long as before.
    expect(events.read(events.write(takes, "unused", { starts: "1997-09-04T08:00:00Z" }))!.ends).toBe("1997-09-04T10:30:00Z");
  });
  it("without a time zone is read as it stands", () => {
    const floating = REVIEW.replace("DTSTART:19970903T163000Z", "DTSTART:19970903T163000");
    expect(events.read(floating)!.starts).toBe("1997-09-03T16:30:00Z");
  });
  it("that repeats is one row; what differs in one of its days is left as it is", () => {
    const repeats = REVIEW.replace("CLASS:PRIVATE", "RRULE:FREQ=YEARLY;COUNT=3").replace(
      "END:VCALENDAR",
      lines(
        "BEGIN:VEVENT",
        "UID:19970901T130000Z-123401@example.com",
        "DTSTAMP:19970901T130000Z",
        "RECURRENCE-ID:19980903T163000Z",
        "DTSTART:19980904T163000Z",
        "SUMMARY:A day later",
        "END:VEVENT",
        "END:VCALENDAR",
      ).trimEnd(),
    );
    expect(events.read(repeats)).toMatchObject({ title: "Annual Employee Review", repeats: "FREQ=YEARLY;COUNT=3" });
    const named = events.write(repeats, "unused", { title: "Review" });
    expect(named).toContain("SUMMARY:Review");
    expect(named).toContain("SUMMARY:A day later");
    expect(() => events.write(repeats, "unused", { repeats: "FREQ=DAILY" })).toThrow("only comes in");
  });
  it("needs a beginning, and times that are times", () => {
    expect(() => events.write(null, "u-1", { title: "When?" })).toThrow("needs a beginning");
    expect(() => events.write(REVIEW, "unused", { starts: "next week" })).toThrow("no date or time");
    expect(events.read(events.write(null, "u-1", { title: "Then", starts: "2026-02-03T04:05:06Z" }))).toMatchObject({
      uid: "u-1",
      starts: "2026-02-03T04:05:06Z",
      ends: "",
    });
  });
  it("is nothing where the text is another thing", () => {
    for (const text of [AUTHOR, "", lines("BEGIN:VCALENDAR", "END:VCALENDAR")]) expect(events.read(text)).toBeNull();
  });
});
