/** Where files come and go: the portal's own address for its people, the back office for the owner. */
import { Busy, isBusy, whenFree } from "@/data/file/when-free";
import { Desk } from "@/data/records/desk";
import { officePortalOf } from "@/identity/requests/office-gate";
import { requestPortal, sameOrigin } from "@/identity/requests/request";
import { about, append, create, drop, protocol } from "./incoming";
import { serve } from "./outgoing";

interface At {
  readonly desk: Desk;
  /** Before `/-/uploads`. */
  readonly base: string;
  /** Looks as somebody else, and changes nothing. */
  readonly looking: boolean;
}
type Place = "portal" | "office";

async function deskAt(place: Place, slug: string): Promise<At | undefined> {
  if (place === "office") {
    const p = await officePortalOf(slug, "records");
    return p && { desk: p.desk, base: p.at, looking: false };
  }
  const r = await requestPortal(slug);
  return r && { desk: new Desk(r.file, r.published.policy, r.viewer), base: r.base, looking: r.seeAs !== null && r.seeAs !== undefined };
}

const told = (status: number, words: string): Response =>
  new Response(`${words}\n`, { status, headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" } });

async function at(place: Place, slug: string, write: boolean, work: (a: At) => Promise<Response> | Response): Promise<Response> {
  try {
    const found = await deskAt(place, slug);
    if (!found) return told(404, "Not found");
    if (write) {
      if (!(await sameOrigin())) return told(403, "Files are taken from this portal's own pages.");
      if (found.looking) return told(403, "You are looking as somebody else; nothing can be changed.");
      await whenFree(found.desk.file);
    }
    return await work(found);
  } catch (e) {
    if (e instanceof Busy || isBusy(e)) return told(503, "The portal is busy. Try again in a moment.");
    console.error(e);
    return told(500, "Something went wrong on our side. Nothing was changed.");
  }
}

type Context<P> = { params: Promise<P> };

/** Slugs come under another name in each tree of routes. */
const slugOf = (p: { slug?: string; portal?: string }): string => p.slug ?? p.portal ?? "";

/** The handlers where an upload begins (tus 1.0, creation). */
export const uploads = (place: Place) => ({
  POST: async (request: Request, { params }: Context<{ slug?: string; portal?: string }>): Promise<Response> =>
    at(place, slugOf(await params), true, ({ desk, base }) => create(desk, request, `${base}/-/uploads`)),
  OPTIONS: protocol,
});

/** The handlers of one upload: how far it is, its next piece, and its end (tus 1.0). */
export const upload = (place: Place) => ({
  HEAD: async (_: Request, { params }: Context<{ slug?: string; portal?: string; id: string }>): Promise<Response> => {
    const p = await params;
    return at(place, slugOf(p), false, ({ desk }) => about(desk, p.id));
  },
  PATCH: async (request: Request, { params }: Context<{ slug?: string; portal?: string; id: string }>): Promise<Response> => {
    const p = await params;
    return at(place, slugOf(p), true, ({ desk }) => append(desk, request, p.id));
  },
  DELETE: async (_: Request, { params }: Context<{ slug?: string; portal?: string; id: string }>): Promise<Response> => {
    const p = await params;
    return at(place, slugOf(p), true, ({ desk }) => drop(desk, p.id));
  },
});

/** The handler that gives out a file, in ranges where they are asked for. 404 for whoever does not see it. */
export const file = (place: Place) => {
  const GET = async (request: Request, { params }: Context<{ slug?: string; portal?: string; rest: string[] }>): Promise<Response> => {
    const p = await params;
    return at(place, slugOf(p), false, ({ desk }) => serve(desk, request, p.rest));
  };
  return { GET, HEAD: GET };
};
