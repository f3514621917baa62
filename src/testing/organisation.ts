/** For tests of providers: an organisation that signs people in, whom a portal of two companies knows or does not. */
import { afterAll, afterEach, beforeAll } from "vitest";
import { AT_FIRST, keepDoors } from "@/identity/doors/settings";
import { addProvider, providerById } from "@/identity/providers/providers";
import { type StandInProvider, startProvider } from "../../scripts/provider.mjs";
import { ownFolder } from "./folder";
import { testPortal } from "./portal";

export const BACK = "http://portal.localhost:3999/-/outside/x/back";
export const PEOPLE = [
  { sub: "u1", name: "Dana", email: "dana@t.example" },
  { sub: "u2", name: "Olga", email: "olga@t.example" },
  { sub: "u3", name: "Else", email: "else@elsewhere.example" },
];

/** There while the tests of a file run that calls `withOrganisation`. */
export const organisation = { idp: null as unknown as StandInProvider };
/** Begins it before the tests of a file and ends it after them; between two it behaves again. */
export function withOrganisation(): void {
  ownFolder();
  beforeAll(async () => {
    process.env.ELKHORN_INSIDE = "localhost";
    organisation.idp = await startProvider({
      port: 0,
      name: "Test organisation",
      people: PEOPLE,
      clients: [{ client_id: "elkhorn", client_secret: "s3cret-of-the-client", redirect_uris: [BACK] }],
    });
  });
  afterEach(() => organisation.idp.behave("honest"));
  afterAll(async () => {
    await organisation.idp.stop();
    delete process.env.ELKHORN_INSIDE;
  });
}

export function world(kind: "oidc" | "saml" = "oidc") {
  const p = testPortal({ grants: [] });
  keepDoors(p.file, p.owner, { ...AT_FIRST, open: [...AT_FIRST.open, "outside"] });
  const dana = p.person("Dana", "One", "lead").viewer.person!.id;
  const olga = p.person("Olga", "Two", "lead").viewer.person!.id;
  const made = addProvider(
    p.file,
    p.owner,
    kind === "oidc"
      ? { kind, name: "Org", domains: ["t.example"], issuer: organisation.idp.origin, client: "elkhorn", secret: "s3cret-of-the-client" }
      : { kind, name: "Org", domains: ["t.example"], metadata: organisation.idp.metadata },
  );
  if (!made.ok) throw new Error(made.error.message);
  return { p, dana, olga, provider: providerById(p.file, made.value.id)!, now: Date.now() };
}

/** As a browser: follows to the stand-in's page, chooses somebody, and follows back. */
export async function through(url: URL, sub: string): Promise<URL> {
  const jar = new Map<string, string>();
  let at = url.href;
  let init: RequestInit = {};
  for (let i = 0; i < 12; i++) {
    const r = await fetch(at, {
      ...init,
      redirect: "manual",
      headers: { ...init.headers, cookie: [...jar].map(([k, v]) => `${k}=${v}`).join("; ") },
    });
    for (const c of r.headers.getSetCookie()) {
      const [pair] = c.split(";") as [string];
      jar.set(pair.slice(0, pair.indexOf("=")), pair.slice(pair.indexOf("=") + 1));
    }
    const next = r.headers.get("location");
    if (next?.startsWith(BACK)) return new URL(next);
    if (next) {
      at = new URL(next, at).href;
      init = {};
    } else init = { method: "POST", body: new URLSearchParams({ sub }), headers: { "content-type": "application/x-www-form-urlencoded" } };
  }
  throw new Error("It never came back.");
}
