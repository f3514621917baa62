/** A server of contacts (CardDAV, RFC 6352) and calendars (CalDAV, RFC 4791). */
import { createDAVClient } from "tsdav";
import { err, ok, type Result } from "@/core/result";
import { guardedFetch } from "../../outside/guarded";
import { troubleOf, unreachable } from "../address";
import {
  differing,
  later,
  MOST_IN_MEMORY,
  never,
  SOURCE_WAITS,
  type SourceAdapter,
  type SourceRow,
  type SourceSettings,
  type SourceTrouble,
  type SourceWrite,
  type SourceWritten,
  Troubled,
} from "../contract";
import { type CardKind, contacts, events } from "./cards";

const KINDS = { contacts: { account: "carddav", card: contacts }, calendar: { account: "caldav", card: events } } as const;
type Kind = keyof typeof KINDS;

const PIECE = 500;

type Client = Awaited<ReturnType<typeof createDAVClient>>;

/** Only of the server that was named: what opens it is told to no other. @throws Troubled */
function guardedFor(origin: string) {
  return async (input: string | URL | Request, init: RequestInit = {}): Promise<Response> => {
    const url = new URL(input instanceof Request ? input.url : input);
    if (url.origin !== origin)
      throw new Troubled(never(`${new URL(origin).host} leads on to ${url.host}. Connect that one, if it is yours.`));
    try {
      const answer = await guardedFetch(url, { ...init, redirect: "manual" }, { bytes: MOST_IN_MEMORY, waits: SOURCE_WAITS / 2 });
      if (answer.status === 401 || answer.status === 403 || answer.status === 429 || answer.status >= 500)
        throw new Troubled(troubleOf(answer.status, url.host, answer.headers.get("retry-after") ?? undefined));
      return answer;
    } catch (e) {
      throw e instanceof Troubled ? e : new Troubled(unreachable(e as Error, url.host));
    }
  };
}

async function clientOf(s: SourceSettings, kind: Kind): Promise<Client> {
  const base = s.address ?? "";
  if (!URL.canParse(base) || !/^https?:$/.test(new URL(base).protocol))
    throw new Troubled(never("Write the whole address, beginning with https://."));
  const asked = guardedFor(new URL(base).origin);
  const told: { trouble: Troubled | null } = { trouble: null };
  // The library hides some errors; the first is what is to be told.
  const fetching = async (input: string | URL | Request, init?: RequestInit): Promise<Response> => {
    try {
      return await asked(input, init);
    } catch (e) {
      if (e instanceof Troubled) told.trouble ??= e;
      throw e;
    }
  };
  try {
    return await createDAVClient({
      serverUrl: base,
      credentials: { username: s.user ?? "", password: s.password ?? "" },
      authMethod: "Basic",
      defaultAccountType: KINDS[kind].account,
      fetch: fetching as never,
    });
  } catch (e) {
    throw told.trouble ?? e;
  }
}

async function within<T>(host: string, work: () => Promise<T>): Promise<Result<T, SourceTrouble>> {
  try {
    return ok(await work());
  } catch (e) {
    if (e instanceof Troubled) return err(e.trouble);
    return err(later(`${host} answered in a way that contacts and calendars do not (${(e as Error).message.slice(0, 100)}).`));
  }
}

interface Collection {
  readonly url: string;
  readonly name: string;
  /** Changes with anything in it. */
  readonly tag: string | null;
}
async function collectionsOf(c: Client, kind: Kind): Promise<Collection[]> {
  const found = kind === "contacts" ? await c.fetchAddressBooks() : await c.fetchCalendars();
  return found.map((x) => ({
    url: x.url,
    name: typeof x.displayName === "string" && x.displayName ? x.displayName : (x.url.split("/").filter(Boolean).at(-1) ?? kind),
    tag: x.syncToken ?? x.ctag ?? null,
  }));
}

function partsOf(object: string): { kind: Kind; url: string } {
  const at = object.indexOf(" ");
  const kind = object.slice(0, at);
  if (kind !== "contacts" && kind !== "calendar") throw new Troubled(never("This is not there any more."));
  return { kind, url: object.slice(at + 1) };
}

interface Held {
  readonly url: string;
  readonly etag: string;
  readonly text: string;
  readonly row: SourceRow;
}

/** All of a collection. */
async function heldIn(c: Client, kind: Kind, url: string): Promise<Held[]> {
  const { card } = KINDS[kind];
  const found = kind === "contacts" ? await c.fetchVCards({ addressBook: { url } }) : await c.fetchCalendarObjects({ calendar: { url } });
  return found.flatMap((o): Held[] => {
    const text = String(o.data ?? "");
    const row = rowOf(card, text);
    return row ? [{ url: o.url, etag: o.etag ?? "", text, row }] : [];
  });
}
const rowOf = (card: CardKind, text: string): SourceRow | null => {
  const row = card.read(text);
  return row?.uid ? row : null;
};

async function write(s: SourceSettings, object: string, w: SourceWrite): Promise<SourceWritten> {
  const { kind, url } = partsOf(object);
  const { card } = KINDS[kind];
  const c = await clientOf(s, kind);
  const put = async (answer: Promise<Response>): Promise<number> => {
    const { status } = await answer;
    if (status !== 412 && status >= 300) throw new Troubled(never(`${new URL(url).host} refuses it (${status}).`));
    return status;
  };
  if (w.key === null) {
    const uid = `elkhorn-${w.once}`;
    const text = card.write(null, uid, w.values);
    const filename = `${uid}.${card.extension}`;
    const made =
      kind === "contacts"
        ? c.createVCard({ addressBook: { url }, filename, vCardString: text })
        : c.createCalendarObject({ calendar: { url }, filename, iCalString: text });
    await put(made); // 412: it was made by an earlier try
    return { kind: "written", key: uid, row: card.read(text)! };
  }
  for (let tries = 0; tries < 3; tries++) {
    const held = (await heldIn(c, kind, url)).find((h) => h.row.uid === w.key);
    if (!held) return { kind: "gone" };
    if (w.seen && differing(w.values, w.seen, held.row).length > 0) return { kind: "differs", row: held.row, changedAt: null };
    const text = card.write(held.text, w.key, w.values);
    const object = { url: held.url, etag: held.etag, data: text };
    const changed = kind === "contacts" ? c.updateVCard({ vCard: object }) : c.updateCalendarObject({ calendarObject: object });
    if ((await put(changed)) !== 412) return { kind: "written", key: w.key, row: card.read(text)! };
  }
  throw new Troubled(later(`${new URL(url).host} changes this all the time.`));
}

const hostOf = (s: SourceSettings): string => (URL.canParse(s.address ?? "") ? new URL(s.address!).host : "");

export const davSource: SourceAdapter = {
  name: "Contacts and calendars",
  about: "A server that speaks CardDAV and CalDAV: its address books and calendars come in, and changes go back.",
  fields: [
    { name: "address", label: "Address", hint: "Of the server, beginning with https://" },
    { name: "user", label: "User", hint: "As for a calendar program" },
    { name: "password", label: "Password", hint: "Of that user, or of this program alone", secret: true },
  ],
  fixed: ["repeats"],
  objects: (s) =>
    within(hostOf(s), async () => {
      const all = [];
      for (const kind of ["contacts", "calendar"] as const)
        for (const x of await collectionsOf(await clientOf(s, kind), kind)) all.push({ id: `${kind} ${x.url}`, name: x.name });
      return all;
    }),
  filters: true,
  read: (s, object, since, only = null) =>
    within(hostOf(s), async () => {
      const { kind, url } = partsOf(object);
      const c = await clientOf(s, kind);
      const now = (await collectionsOf(c, kind)).find((x) => x.url === url);
      if (!now) throw new Troubled(never("This is not there any more."));
      // The same tag as last time: nothing in it has changed.
      const same = since !== null && now.tag === since;
      const { columns } = KINDS[kind].card;
      if (only && !columns.includes(only.column)) throw new Troubled(never("It has no such column."));
      const all = same ? [] : await heldIn(c, kind, url);
      const held = only ? all.filter((h) => only.values.includes(h.row[only.column] ?? "")) : all;
      async function* pieces(): AsyncGenerator<string[][]> {
        for (let at = 0; at < held.length; at += PIECE) yield held.slice(at, at + PIECE).map((h) => columns.map((x) => h.row[x] ?? ""));
      }
      return {
        fileName: `${now.name}.csv`,
        header: columns,
        pieces: pieces(),
        key: "uid",
        whole: !same,
        end: () => ({ mark: now.tag, gone: [] }),
      };
    }),
  write: (s, object, w) => within(hostOf(s), () => write(s, object, w)),
};
