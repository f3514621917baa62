import { expect, it } from "vitest";
import type { Owner } from "@/core/access/viewer";
import { published, storePublished } from "@/data/definition/published";
import { emptyDefinition } from "@/data/installation/portals";
import { addCompany } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import type { OfficePortal } from "@/identity/office-gate";
import { makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { type Matrix, sightlines } from "./sightlines";

function portal(path: string): OfficePortal {
  const file = { ...memoryPortal(), path };
  makeTestSchema(file);
  storePublished(file, emptyDefinition("T"), PUBLISHER);
  const owner = testViewer({ kind: "owner", company: null }) as Owner;
  return {
    slug: "t",
    staff: { id: "s", name: "S", email: "s@t.example" } as OfficePortal["staff"],
    session: "s",
    owner,
    file,
    live: published(file),
    desk: new Desk(file, published(file).policy, owner),
    now: owner.now,
    at: "/portals/t",
  };
}
const settled = async (p: OfficePortal) => {
  sightlines(p, "live");
  await new Promise((done) => setTimeout(done, 50));
  return sightlines(p, "live");
};
const ready = async (p: OfficePortal): Promise<Matrix> => {
  const found = await settled(p);
  if (found.state !== "ready") throw new Error(found.state);
  return found.value;
};

it("are kept until something is written down, and then counted anew", async () => {
  const p = portal("kept");
  const first = await ready(p);
  expect(first.lines.map((l) => l.name)).toEqual(["A visitor"]);
  expect(await ready(p)).toBe(first);
  addCompany(p.file, p.owner, "One");
  expect((await ready(p)).tables.find((t) => t.slug === "companies")?.all).toBe(1);
});

it("that cannot be counted are told once as failed, not tried for ever, and begun anew by the next to ask", async () => {
  const p = portal("broken");
  p.file.db.exec("DROP TABLE sys_memberships");
  expect((await settled(p)).state).toBe("failed");
  expect(sightlines(p, "live").state).toBe("working");
});
