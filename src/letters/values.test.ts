/** Values of records in messages: of the receiver's own record and their company's, and only what they may read inside. */

import { expect, it } from "vitest";
import { fillIn } from "@/core/messages/render";
import { published, storePublished } from "@/data/definition/published";
import { keepTemplate, valueWords } from "@/data/messages/outbox";
import { addField } from "@/data/tables/change";
import { ownFolder } from "@/testing/folder";
import { testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { saidOf } from "./said";

ownFolder();

it("a value that its receiver may not read inside is not said, and what a portal has not is refused", () => {
  const p = testPortal({ grants: [] });
  const { file } = p;
  const job = addField(file, "t_people", { slug: "job", name: "Job", type: "text" });
  const rate = addField(file, "t_people", { slug: "rate", name: "Rate", type: "money", options: { currency: "GBP" } });
  const town = addField(file, "t_companies", { slug: "town", name: "Town", type: "text" });
  const live = published(file).definition;
  const grant = (table: string, fields: string[]) => ({
    id: `g_${table}`,
    roles: ["lead"],
    table,
    actions: ["see" as const],
    filter: null,
    fields,
    changes: [],
  });
  const roles = [...live.roles.filter((r) => r.id !== "lead"), { id: "lead", name: "Lead", side: "client" as const, includes: [] }];
  storePublished(
    file,
    { ...live, roles, grants: [grant("t_people", ["f_person_name", job]), grant("t_companies", ["f_company_name", town])] },
    PUBLISHER,
  );
  const id = p.person("Dana", "Ash", "lead").viewer.person!.id;
  const [ann] = [p.person("Ann", "Birch", "lead")];
  file.db.prepare(`UPDATE t_people SET "${job}" = 'Porter', "${rate}" = 1200 WHERE id = ?`).run(id);
  file.db.prepare(`UPDATE t_companies SET "${town}" = 'Moor' WHERE f_company_name = 'Ash'`).run();
  expect(valueWords(file).map((w) => w.word)).toEqual(
    expect.arrayContaining(["person.job", "person.rate", "company.name", "company.town"]),
  );
  const body = "{address} {link} as {person.job} of {company.name} in {company.town} at {person.rate}.";
  expect(keepTemplate(file, p.owner, "invited", { subject: "S", body })).toBeNull();
  expect(keepTemplate(file, p.owner, "invited", { subject: "S", body: `${body} {person.shoe}` })).toMatch(
    /\{person\.shoe\} means nothing here/,
  );
  expect(keepTemplate(file, p.owner, "sms-code", { subject: "S", body: "{code} {person.job}" })).toMatch(/means nothing here/);
  const said = (who: string) =>
    fillIn({ subject: "S", body }, { ...saidOf(file, { id: who, name: "", email: "" }, p.owner.now), address: "A", link: "L" }).body;
  expect(said(id)).toBe("A L as Porter of Ash in Moor at .");
  expect(said(ann!.viewer.person!.id)).toBe("A L as  of Birch in  at .");
  // Without such a template nothing of a record is read for a message.
  expect(keepTemplate(file, p.owner, "invited", null)).toBeNull();
  expect(saidOf(file, { id, name: "", email: "" }, p.owner.now)).not.toHaveProperty("values");
});
