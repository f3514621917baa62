import { expect, it } from "vitest";
import { HOME, listPageId } from "@/core/pages/ready";
import { published, storePublished } from "@/data/definition/published";
import { doorSettings, keepDoors } from "@/identity/doors/settings";
import { testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { landingOf } from "./landing";
import { portalRequest } from "./testing";

it("the page that is set for a role stands before a list that the doors were set to once, home too", () => {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "sites" },
      { roles: ["lead"], table: "projects" },
    ],
  });
  const dana = p.person("Dana", "One", "lead");
  const [sites, projects] = [p.table("sites"), p.table("projects")];
  const lands = (to: string | null = null): string => landingOf(portalRequest(p.file, dana.viewer), dana.viewer.person!.id, to);
  const landing = (page: string | null): void => {
    const { definition } = published(p.file);
    storePublished(p.file, { ...definition, landing: page === null ? {} : { lead: { page } } }, PUBLISHER);
  };
  expect(lands()).toBe("/");
  keepDoors(p.file, p.owner, { ...doorSettings(p.file), landing: { lead: sites.id } });
  expect(lands()).toBe(`/${sites.slug}`);
  landing(listPageId(projects.id));
  expect([lands(), lands("/sites?q=a")]).toEqual([`/${projects.slug}`, "/sites?q=a"]);
  landing(HOME);
  expect(lands()).toBe("/");
  landing(null);
  expect(lands()).toBe(`/${sites.slug}`);
});
