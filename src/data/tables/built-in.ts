import { statusWords } from "@/core/access/who/viewer";
import { EMAIL_FIELD, PICTURE_FIELD, SHOWN_FIELD } from "@/core/schema/types";
import type { PortalFile } from "../file/open";
import { addTable } from "./change";

/** The built-in tables that every portal has, so that filters and walls can speak of people and companies like of any record. */
export function addBuiltInTables(file: PortalFile): void {
  addTable(file, {
    id: "t_companies",
    kind: "companies",
    slug: "companies",
    name: "Companies",
    singular: "Company",
    fields: [
      { id: "f_company_name", slug: "name", name: "Name", type: "text", options: { required: true } },
      { id: "f_company_slug", slug: "slug", name: "Short name", type: "text", system: true },
    ],
  });
  addTable(file, {
    id: "t_people",
    kind: "people",
    slug: "people",
    name: "People",
    singular: "Person",
    fields: [
      { id: "f_person_name", slug: "name", name: "Name", type: "text", options: { required: true } },
      { id: EMAIL_FIELD, slug: "email", name: "E-mail", type: "email", options: { required: true }, system: true },
      {
        id: "f_person_status",
        slug: "status",
        name: "Status",
        type: "choice",
        system: true,
        options: {
          choices: (["invited", "awaiting approval", "active", "inactive", "expired"] as const).map((id) => ({
            id,
            name: statusWords(id),
          })),
        },
      },
      {
        id: "f_person_companies",
        slug: "companies",
        name: "Companies",
        type: "relations",
        options: { target: "t_companies" },
        system: true,
      },
      { id: SHOWN_FIELD, slug: "shown-to-clients", name: "Shown to clients", type: "yes-no", system: true },
      { id: PICTURE_FIELD, slug: "picture", name: "Picture", type: "pictures" },
    ],
  });
  file.db.exec(`CREATE UNIQUE INDEX "ux_people_email" ON "t_people" ("f_person_email_k")`);
}
