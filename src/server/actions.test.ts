/**
 * Every action of every page, called by somebody who may not: signed out, from another site, as staff whose role does not open it, as a
 * client of the portal. Found in the sources, so a new one is tried as soon as it is there.
 */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { beforeAll, describe, expect, it, vi } from "vitest";
import { mayInOffice, OFFICE_ROLES, type OfficeRole, type Right } from "@/core/access/who/office";
import { ownFolder } from "@/testing/folder";
import { head, jar, nextRequest } from "@/testing/requests";

vi.mock("next/headers", async () => (await import("@/testing/requests")).playedHeaders());
vi.mock("react", async (real) => ({ ...(await real<typeof import("react")>()), cache: (await import("@/testing/requests")).memoized }));
vi.mock("next/cache", () => ({ revalidatePath: () => {} }));
vi.mock("next/navigation", () => ({
  redirect: (to: string) => {
    throw new Error(`redirect ${to}`);
  },
  notFound: () => {
    throw new Error("not found");
  },
}));

ownFolder();
const { createPortal } = await import("@/data/installation/portals");
const { makeTestSchema, PUBLISHER, testViewer } = await import("@/testing/world");
const { addCompany, addPerson } = await import("@/data/people/people");
const { startSession } = await import("@/identity/sessions/sessions");
const { addStaff, officeSignIn } = await import("@/identity/office/sessions");
const { control } = await import("@/data/file/open");

type Action = (...given: unknown[]) => Promise<unknown>;
interface Found {
  readonly file: string;
  readonly name: string;
  readonly maker: string;
  readonly right: Right | null;
}

const SRC = join(import.meta.dirname, "..");
const OFFICE = /^(officeAction|officeCall|officeForm|draftAction|staffForm|staffCall)$/;
const found: Found[] = readdirSync(SRC, { recursive: true, withFileTypes: true })
  .filter((f) => f.isFile() && /\.ts$/.test(f.name) && !f.name.includes(".test."))
  .map((f) => join(f.parentPath, f.name))
  .filter((f) => /^"use server";/m.test(readFileSync(f, "utf8")))
  .flatMap((file) =>
    [...readFileSync(file, "utf8").matchAll(/^export const (\w+) = (\w+)\(\s*(?:"(\w+)")?/gm)].map(([, name, maker, right]): Found => {
      // What is sold is changed by one maker of that room's own.
      return maker === "sold"
        ? { file, name: name!, maker: "draftAction", right: "bill" }
        : { file, name: name!, maker: maker!, right: (right as Right | undefined) ?? null };
    }),
  );
const offices = found.filter((f) => OFFICE.test(f.maker));
const portals = found.filter((f) => f.maker.startsWith("portal"));
const actionOf = async ({ file, name }: Found): Promise<Action> =>
  ((await import(/* @vite-ignore */ file)) as Record<string, Action>)[name]!;

const cookies = new Map<OfficeRole, string>();
let client = "";
let id = "";
beforeAll(async () => {
  const made = createPortal("tried", "Tried", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  makeTestSchema(made.file, false);
  id = made.file.id;
  const owner = testViewer({ kind: "owner", company: null }) as never;
  const company = addCompany(made.file, owner, "One");
  if (!company.ok) throw new Error("no company");
  const dana = addPerson(made.file, owner, {
    name: "Dana",
    email: "dana@one.example",
    memberships: [{ companyId: company.value.id, roles: ["lead"] }],
  });
  if (!dana.ok) throw new Error("no person");
  made.file.db.prepare("UPDATE t_people SET f_person_status = 'active'").run();
  client = startSession(made.file, dana.value.id, null, Date.now());
  for (const role of OFFICE_ROLES) {
    const email = `${role}@agency.example`;
    await addStaff(role, email, `${role}-keeps-the-long-keys`, Date.now());
    control().db.prepare("UPDATE staff SET role = ? WHERE email = ?").run(role, email);
    const done = await officeSignIn(email, `${role}-keeps-the-long-keys`, { address: "here", device: null }, Date.now());
    if (done.ok) cookies.set(role, done.value.token);
  }
}, 60_000);

/** As a browser asks: with these cookies, from this site. */
function asked(held: Record<string, string>, { site = "same-origin", portal }: { site?: string; portal?: string } = {}): void {
  nextRequest();
  jar.clear();
  head.clear();
  for (const [name, value] of Object.entries(held)) jar.set(name, value);
  head.set("sec-fetch-site", site);
  head.set("host", "localhost");
  if (portal) head.set("x-elkhorn-portal", portal);
}

const REFUSED = /Sign in to the back office first|taken from this portal's own pages only|looking as somebody else|not found/;
async function refusal(of: Found): Promise<string> {
  const action = await actionOf(of);
  const given = of.maker.startsWith("staff") || of.maker.startsWith("portal") ? [] : ["tried"];
  return action(...given).then(
    (answer) => `it answered ${JSON.stringify(answer)}`,
    (e: Error) => e.message,
  );
}

it("there are as many as the sources have", () => {
  expect(offices.length).toBeGreaterThan(110);
  expect(portals.length).toBeGreaterThan(35);
  expect(offices.filter((f) => f.right === null)).toEqual([]);
});

it("whoever may is let through, so that the refusals below are refusals", async () => {
  const named = (name: string): Found => found.find((f) => f.name === name)!;
  asked({ elkhorn_office: cookies.get("owner")! });
  expect(await refusal(named("throwDraftAway"))).toBe("redirect /portals/tried/publish");
  asked({ elkhorn_office: cookies.get("support")! });
  expect(await refusal(named("tryAddressAgain"))).toBe("This could not be read.");
  asked({ [`elkhorn_${id}`]: client }, { portal: "tried" });
  expect(await refusal(named("dropPicture"))).toBe("it answered undefined");
});

describe("an action of the back office", () => {
  it.each(offices.map((f) => [f.name, f] as const))("%s is refused to whoever may not", { timeout: 30_000 }, async (_, f) => {
    asked({});
    expect(await refusal(f), "signed out").toMatch(REFUSED);
    asked({ [`elkhorn_${id}`]: client });
    expect(await refusal(f), "a client").toMatch(REFUSED);
    const owner = cookies.get("owner")!;
    asked({ elkhorn_office: owner }, { site: "cross-site" });
    expect(await refusal(f), "from another site").toMatch(REFUSED);
    for (const role of OFFICE_ROLES) {
      if (mayInOffice(role, f.right!)) continue;
      asked({ elkhorn_office: cookies.get(role)! });
      expect(await refusal(f), role).toMatch(REFUSED);
    }
  });
});

describe("an action of a portal", () => {
  it.each(portals.map((f) => [f.name, f] as const))("%s is refused from another site, and where no portal answers", async (_, f) => {
    asked({ [`elkhorn_${id}`]: client }, { site: "cross-site", portal: "tried" });
    expect(await refusal(f)).toMatch(REFUSED);
    asked({ [`elkhorn_${id}`]: client });
    expect(await refusal(f)).toMatch(/No portal answers/);
  });
});
