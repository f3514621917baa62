/** Contacts (vCard, RFC 6350) and events (iCalendar, RFC 5545) as rows of a table, and rows as what is changed of them. */
import ICAL from "ical.js";
import { never, type SourceRow, Troubled } from "../contract";
import { withLines } from "./lines";

/** What one kind of object looks like as a row. */
export interface CardKind {
  readonly columns: readonly string[];
  readonly read: (text: string) => SourceRow | null;
  /** The same object with these columns changed, all else as it was; null makes one. @throws Troubled where a value cannot stand there. */
  readonly write: (text: string | null, uid: string, values: SourceRow) => string;
  readonly extension: string;
}

/** One value of a property that may be there several times: the first is meant. */
const textIn = (c: ICAL.Component, name: string): string => {
  const v = c.getFirstPropertyValue(name);
  const first = Array.isArray(v) ? v[0] : v;
  // A semicolon may be escaped where it parts nothing, too (RFC 6350 section 3.4), which the library leaves as it stands.
  return first === null || first === undefined ? "" : String(first).replaceAll("\\;", ";");
};
function setText(c: ICAL.Component, name: string, given: string): void {
  // A carriage return by itself would end the line for some who read it.
  const value = given.replace(/\r\n?/g, "\n");
  const there = c.getFirstProperty(name);
  if (value === "") c.removeProperty(name);
  else if (!there) c.addPropertyWithValue(name, value);
  else if (Array.isArray(there.getFirstValue()))
    there.setValue([value, ...(there.getFirstValue() as unknown as string[]).slice(1)] as never);
  else there.setValue(value);
}

const lineOf = (c: ICAL.Component, name: string): string | null => c.getFirstProperty(name)?.toICALString() ?? null;

function parsed(text: string, name: string): ICAL.Component | null {
  try {
    const c = new ICAL.Component(ICAL.parse(text) as never);
    return c.name === name ? c : null;
  } catch {
    return null;
  }
}

const CONTACT = { name: "fn", email: "email", phone: "tel", organisation: "org", title: "title", note: "note" } as const;

export const contacts: CardKind = {
  columns: ["uid", ...Object.keys(CONTACT)],
  extension: "vcf",
  read: (text) => {
    const c = parsed(text, "vcard");
    // A telephone number of vCard 4 is an address of its own kind (RFC 6350 section 6.4.1, RFC 3966).
    return (
      c && {
        uid: textIn(c, "uid"),
        ...Object.fromEntries(Object.entries(CONTACT).map(([column, p]) => [column, textIn(c, p).replace(/^tel:/i, "")])),
      }
    );
  },
  write: (text, uid, values) => {
    const there = text !== null && parsed(text, "vcard") ? text : `BEGIN:VCARD\r\nVERSION:4.0\r\nUID:${uid}\r\nFN:-\r\nEND:VCARD`;
    const c = parsed(there, "vcard")!;
    const puts = new Map<string, string | null>();
    for (const [column, p] of Object.entries(CONTACT)) {
      const value = values[column];
      if (value === undefined) continue;
      if (p === "fn" && value === "") throw new Troubled(never("A contact needs a name (RFC 6350 section 6.2.1)."));
      setText(c, p, value);
      puts.set(p, value === "" ? null : lineOf(c, p));
    }
    return withLines(there, "VCARD", puts);
  },
};

const EVENT = { title: "summary", place: "location", note: "description" } as const;
const DAY = 86_400_000;

/** The end of an event that says how long it takes in place of it; null where it says neither. */
function endByDuration(c: ICAL.Component): ICAL.Time | null {
  const [start, takes] = ["dtstart", "duration"].map((name) => c.getFirstPropertyValue(name)) as [ICAL.Time | null, ICAL.Duration | null];
  if (!start || !takes) return null;
  const end = start.clone();
  end.addDuration(takes);
  return end;
}

/** A day, or a moment in UTC. The last day of one that takes whole days is the day before its end (RFC 5545 section 3.6.1). */
function timeText(c: ICAL.Component, name: "dtstart" | "dtend"): string {
  const t = (c.getFirstPropertyValue(name) as ICAL.Time | null) ?? (name === "dtend" ? endByDuration(c) : null);
  if (!t) return "";
  if (t.isDate) {
    const day = new Date(`${t.toString()}T00:00:00Z`);
    return new Date(day.getTime() - (name === "dtend" ? DAY : 0)).toISOString().slice(0, 10);
  }
  const floating = t.zone === ICAL.Timezone.localTimezone;
  return floating ? `${t.toString()}Z` : t.toJSDate().toISOString().replace(".000Z", "Z");
}

function setTime(c: ICAL.Component, name: "dtstart" | "dtend", text: string): void {
  if (text === "") return void c.removeProperty(name);
  const at = Date.parse(/^\d{4}-\d\d-\d\d$/.test(text) ? `${text}T00:00:00Z` : text);
  if (Number.isNaN(at)) throw new Troubled(never(`“${text}” is no date or time.`));
  const whole = /^\d{4}-\d\d-\d\d$/.test(text);
  const time = whole
    ? ICAL.Time.fromDateString(new Date(at + (name === "dtend" ? DAY : 0)).toISOString().slice(0, 10))
    : ICAL.Time.fromJSDate(new Date(at), true);
  c.removeProperty(name);
  const p = new ICAL.Property(name);
  if (whole) p.resetType("date");
  p.setValue(time as never);
  c.addProperty(p);
}

/** The event itself, where some of its days are told beside it. */
const mainEvent = (calendar: ICAL.Component | null): ICAL.Component | undefined =>
  calendar?.getAllSubcomponents("vevent").find((e) => !e.hasProperty("recurrence-id"));

export const events: CardKind = {
  columns: ["uid", "title", "starts", "ends", "place", "note", "repeats"],
  extension: "ics",
  read: (text) => {
    const c = mainEvent(parsed(text, "vcalendar"));
    if (!c) return null;
    return {
      uid: textIn(c, "uid"),
      starts: timeText(c, "dtstart"),
      ends: timeText(c, "dtend"),
      repeats: textIn(c, "rrule"),
      ...Object.fromEntries(Object.entries(EVENT).map(([column, p]) => [column, textIn(c, p)])),
    };
  },
  write: (text, uid, values) => {
    const fresh = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Elkhorn//EN\r\nBEGIN:VEVENT\r\nUID:${uid}\r\nDTSTAMP:20260101T000000Z\r\nEND:VEVENT\r\nEND:VCALENDAR`;
    const there = text !== null && mainEvent(parsed(text, "vcalendar")) ? text : fresh;
    const c = mainEvent(parsed(there, "vcalendar"))!;
    if (values.repeats) throw new Troubled(never("How an event repeats only comes in."));
    const puts = new Map<string, string | null>();
    for (const [column, p] of Object.entries(EVENT)) {
      const value = values[column];
      if (value === undefined) continue;
      setText(c, p, value);
      puts.set(p, value === "" ? null : lineOf(c, p));
    }
    for (const [column, p] of [["starts", "dtstart"] as const, ["ends", "dtend"] as const]) {
      const value = values[column];
      if (value === undefined) continue;
      setTime(c, p, value);
      puts.set(p, lineOf(c, p));
      // An event says when it ends or how long it takes, never both (RFC 5545 section 3.6.1).
      if (p === "dtend") puts.set("duration", null);
    }
    if (!c.hasProperty("dtstart")) throw new Troubled(never("An event needs a beginning (RFC 5545 section 3.6.1)."));
    return withLines(there, "VEVENT", puts);
  },
};
