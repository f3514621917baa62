import { expect, it } from "vitest";
import type { Definition } from "@/core/definition/definition";
import { addPage } from "@/core/editing/edit";
import { EVERYBODY } from "@/core/pages/page";
import { keepPageAddresses } from "@/data/definition/page-addresses";
import { published, storePublished } from "@/data/definition/published";
import { testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { formerly } from "./pages-for";
import { portalRequest } from "./testing";

it("a former address leads on for whom the page is; to others it is as one that never was", () => {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "sites" },
      { roles: ["member"], table: "projects" },
    ],
  });
  const begun = published(p.file);
  const made = addPage(begun.definition, "p1", "Merger with Two", p.table("sites").id, begun.policy.schema);
  const old = made.pages.find((x) => x.id === "p1")!.address;
  const now: Definition = {
    ...made,
    pages: made.pages.map((x) =>
      x.id === "p1" ? { ...x, address: "secret-plan", about: null, audience: { ...EVERYBODY, roles: ["lead"] } } : x,
    ),
  };
  const words = { id: "s1", page: "p1", place: "a", title: "", width: 12, breaks: false, audience: EVERYBODY, record: null, reader: null };
  storePublished(p.file, { ...now, sections: [{ ...words, kind: "text", config: { body: [] } } as never] }, PUBLISHER);
  keepPageAddresses(p.file, made, now);
  const leads = (viewer: Parameters<typeof portalRequest>[1]): string | undefined =>
    formerly(portalRequest(p.file, viewer, `/${old}`), old)?.address;
  expect(leads(p.person("Ann", "One", "lead").viewer)).toBe("secret-plan");
  expect(leads(p.person("Ben", "Two", "member").viewer)).toBeUndefined();
  expect(leads(p.visitor().viewer)).toBeUndefined();
});
