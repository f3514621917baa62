/** Fernhill's tables: a sign maker's sites, projects, signs and the papers around them. */

import type { Tone } from "@/core/schema/types";
import type { PortalFile } from "@/data/file/open";
import { addField, addTable, type NewField } from "@/data/tables/change";

const COMPANY: NewField = { slug: "company", name: "Company", type: "relation", options: { target: "t_companies" } };
const TONES: Record<string, Tone> = {
  Approved: "good",
  Paid: "good",
  Fitted: "good",
  Done: "good",
  Making: "going",
  "Under way": "going",
  Waiting: "waiting",
  Proof: "waiting",
  New: "waiting",
  "Changes wanted": "trouble",
  Repair: "trouble",
  Overdue: "trouble",
  Today: "trouble",
};
const tonedChoice = (name: string) => ({ name, ...(TONES[name] ? { tone: TONES[name] } : {}) });
const choice = (slug: string, name: string, ...names: string[]): NewField => ({
  slug,
  name,
  type: "choice",
  options: { choices: names.map(tonedChoice) },
});
const text = (slug: string, name: string, required = false): NewField => ({
  slug,
  name,
  type: "text",
  options: required ? { required } : {},
});
const long = (slug: string, name: string): NewField => ({ slug, name, type: "long-text" });
const date = (slug: string, name: string): NewField => ({ slug, name, type: "date" });
const money = (slug: string, name: string): NewField => ({ slug, name, type: "money", options: { currency: "GBP" } });
const to = (slug: string, name: string, target: string): NewField => ({ slug, name, type: "relation", options: { target } });

export type DemoTables = Record<
  "sites" | "projects" | "signs" | "proofs" | "requests" | "invoices" | "documents" | "standards" | "prices",
  string
>;

export function makeTables(file: PortalFile): DemoTables {
  addField(file, "t_companies", text("address", "Address"));
  addField(file, "t_companies", date("client-since", "Client since"));
  const sites = addTable(file, {
    slug: "sites",
    name: "Sites",
    singular: "Site",
    fields: [
      text("name", "Name", true),
      COMPANY,
      text("address", "Address"),
      text("opening-hours", "Opening hours"),
      text("map-reference", "Map reference"),
    ],
  });
  addField(file, "t_people", { slug: "sites", name: "Sites", type: "relations", options: { target: sites } });
  addField(file, "t_people", { slug: "telephone", name: "Telephone", type: "telephone", options: { country: "GB" } });
  const projects = addTable(file, {
    slug: "projects",
    name: "Projects",
    singular: "Project",
    fields: [
      text("title", "Title", true),
      COMPANY,
      choice("stage", "Stage", "Survey", "Design", "Making", "Fitting", "Done"),
      to("lead", "Project lead", "t_people"),
      date("due", "Due"),
      long("summary", "Summary"),
      { slug: "margin", name: "Margin %", type: "number", options: { decimals: 0 } },
    ],
  });
  const signs = addTable(file, {
    slug: "signs",
    name: "Signs",
    singular: "Sign",
    fields: [
      text("code", "Code", true),
      to("project", "Project", projects),
      to("site", "Site", sites),
      choice("type", "Type", "Totem", "Hanging", "Wall plate", "Door plate", "Floor line", "Directory"),
      text("size", "Size"),
      choice("material", "Material", "Aluminium", "Oak", "Vitreous enamel", "Recycled acrylic", "Slate"),
      choice("stage", "Stage", "Planned", "Proof", "Making", "Fitted", "Repair"),
      date("fitted", "Fitted on"),
      { slug: "photo", name: "Photo", type: "pictures" },
      money("unit-cost", "Unit cost"),
    ],
  });
  const proofs = addTable(file, {
    slug: "proofs",
    name: "Proofs",
    singular: "Proof",
    fields: [
      text("title", "Title", true),
      to("sign", "Sign", signs),
      { slug: "version", name: "Version", type: "number", options: { decimals: 0 } },
      { slug: "file", name: "File", type: "files" },
      choice("decision", "Decision", "Waiting", "Approved", "Changes wanted"),
      date("sent", "Sent on"),
      long("note", "Note"),
    ],
  });
  const requests = addTable(file, {
    slug: "requests",
    name: "Requests",
    singular: "Request",
    fields: [
      text("subject", "Subject", true),
      COMPANY,
      choice("kind", "Kind", "Repair", "New sign", "Wording change", "Question"),
      choice("urgency", "Urgency", "Can wait", "This week", "Today"),
      to("site", "Site", sites),
      {
        ...choice("status", "Status", "New", "Planned", "Under way", "Closed"),
        options: { choices: ["New", "Planned", "Under way", "Closed"].map(tonedChoice), default: { kind: "literal", value: "New" } },
      },
      { ...date("asked-on", "Asked on"), options: { default: { kind: "date", anchor: "today", days: 0 } } },
      {
        ...to("asked-by", "Asked by", "t_people"),
        options: { target: "t_people", default: { kind: "viewer", of: "person", field: null } },
      },
      long("message", "Message"),
      long("internal-note", "Internal note"),
    ],
  });
  const invoices = addTable(file, {
    slug: "invoices",
    name: "Invoices",
    singular: "Invoice",
    fields: [
      text("number", "Number", true),
      COMPANY,
      date("issued", "Issued"),
      date("due", "Due"),
      money("amount", "Amount"),
      choice("status", "Status", "Open", "Paid", "Overdue"),
    ],
  });
  const documents = addTable(file, {
    slug: "documents",
    name: "Documents",
    singular: "Document",
    fields: [
      text("title", "Title", true),
      COMPANY,
      choice("kind", "Kind", "Drawing", "Survey", "Warranty", "Report"),
      date("dated", "Dated"),
      { slug: "file", name: "File", type: "files" },
    ],
  });
  const standards = addTable(file, {
    slug: "standards",
    name: "Standards",
    singular: "Standard",
    fields: [text("title", "Title", true), choice("kind", "Kind", "Sign type", "Legibility", "Placing", "Upkeep"), long("rule", "Rule")],
  });
  const prices = addTable(file, {
    slug: "price-book",
    name: "Price book",
    singular: "Price",
    fields: [text("item", "Item", true), choice("unit", "Unit", "each", "hour", "metre"), money("rate", "Rate")],
  });
  return { sites, projects, signs, proofs, requests, invoices, documents, standards, prices };
}
