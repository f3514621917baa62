/** Fernhill's roles, walls, grants, plans and brand. One grant can match nothing on purpose: the findings should find it. */
import type { Act } from "@/core/access/act";
import { type Action, everyoneRole } from "@/core/access/rules";
import type { Claim, Safeguard, Subject } from "@/core/access/safeguards";
import type { Definition } from "@/core/definition/definition";
import type { Condition, Operand } from "@/core/schema/condition";
import type { Schema } from "@/core/schema/types";
import { byNames, literal } from "./by-names";
import { demoOffer } from "./offer";
import { demoPages } from "./pages";

/** Acts on proofs. */
const DECIDE = ["approve", "send-back"];
/** And about requests. */
const TALK = ["talk"];

interface Line {
  roles: string;
  table: string;
  may: string;
  /** Field slugs; "*" lists all that the table has now. A minus takes one away. */
  see: string;
  set?: string;
  where?: Condition;
  needs?: string;
  /** Ids of acts. */
  acts?: string[];
}

export function demoDefinition(schema: Schema, saltmarsh: string): Definition {
  const { fieldId, path, test, choicesOf, list } = byNames(schema);
  const mySites: Operand = { kind: "viewer", of: "person", field: fieldId("people", "sites") };
  const me: Operand = { kind: "viewer", of: "person", field: null };

  const decide = (id: string, name: string, word: string): Act => ({
    id,
    name,
    table: schema.tableBySlug("proofs")!.id,
    on: "change",
    sets: [{ field: fieldId("proofs", "decision"), to: choicesOf(fieldId("proofs", "decision"), literal(word)) }],
  });
  let n = 0;
  const grant = (l: Line): Definition["grants"][number] => ({
    id: `g_${++n}`,
    roles: l.roles.split(" "),
    table: schema.tableBySlug(l.table)!.id,
    actions: l.may.split(" ").filter(Boolean) as Action[],
    filter: l.where ?? null,
    fields: list(l.table, l.see),
    changes: list(l.table, l.set ?? ""),
    ...(l.acts ? { acts: l.acts } : {}),
    feature: l.needs ?? null,
    validFrom: null,
    validUntil: null,
  });
  const guard = (id: string, subject: Subject, table: string, claim: Claim): Safeguard => ({
    id,
    subject,
    table: schema.tableBySlug(table)!.id,
    claim,
  });
  const all = (...of: Condition[]): Condition => ({ kind: "all", of });

  const lines: Line[] = [
    // Clients: everybody in a company
    { roles: "member", table: "companies", may: "see", see: "name address client-since" },
    { roles: "member", table: "people", may: "see", see: "name email telephone", needs: "portal" },
    { roles: "member", table: "standards", may: "see", see: "*", needs: "portal" },
    // Lead: everything of the company
    { roles: "lead", table: "sites", may: "see export", see: "*", needs: "portal" },
    { roles: "lead", table: "projects", may: "see export", see: "* -margin", needs: "portal" },
    { roles: "lead", table: "signs", may: "see export", see: "* -unit-cost", needs: "portal" },
    { roles: "lead", table: "proofs", may: "see change export", see: "*", set: "decision note", needs: "portal" },
    // Decided is decided: what was approved is changed by hand, with its note, or not at all.
    {
      roles: "lead approver",
      table: "proofs",
      may: "",
      see: "",
      acts: DECIDE,
      where: test("proofs", "decision", "is", literal("Waiting")),
      needs: "portal",
    },
    {
      roles: "lead",
      table: "requests",
      may: "see add export",
      see: "* -internal-note",
      acts: TALK,
      set: "subject kind urgency site message",
      where: test("requests", "status", "is-not", literal("Closed")),
      needs: "portal",
    },
    {
      roles: "lead manager",
      table: "requests",
      may: "see export",
      see: "* -internal-note",
      where: test("requests", "status", "is", literal("Closed")),
      needs: "history",
    },
    {
      roles: "lead",
      table: "documents",
      may: "see export",
      see: "*",
      where: test("documents", "kind", "is-not", literal("Report")),
      needs: "portal",
    },
    {
      roles: "lead",
      table: "documents",
      may: "",
      see: "",
      acts: ["accept-warranty"],
      where: test("documents", "kind", "is", literal("Warranty")),
      needs: "portal",
    },
    {
      roles: "lead",
      table: "documents",
      may: "see export",
      see: "*",
      where: test("documents", "kind", "is", literal("Report")),
      needs: "reports",
    },
    { roles: "lead accounts", table: "invoices", may: "see export", see: "*" },
    // Site manager: the sites given to them
    { roles: "manager", table: "sites", may: "see", see: "*", where: test("sites", "self", "any-of", mySites), needs: "portal" },
    {
      roles: "manager",
      table: "signs",
      may: "see export",
      see: "code site type size material stage fitted photo",
      where: test("signs", "site", "any-of", mySites),
      needs: "portal",
    },
    {
      roles: "manager",
      table: "requests",
      may: "see add",
      see: "* -internal-note",
      acts: TALK,
      set: "subject kind urgency site message",
      where: all(test("requests", "site", "any-of", mySites), test("requests", "status", "is-not", literal("Closed"))),
      needs: "portal",
    },
    // Approver: proofs, and more of a sign while its proof is out
    { roles: "approver", table: "proofs", may: "see change", see: "*", set: "decision note", needs: "portal" },
    { roles: "approver", table: "signs", may: "see", see: "code type stage", needs: "portal" },
    {
      roles: "approver",
      table: "signs",
      may: "see",
      see: "code type stage size material photo site",
      where: test("signs", "stage", "is", literal("Proof")),
      needs: "portal",
    },
    { roles: "onlooker", table: "projects", may: "see", see: "title stage due", needs: "portal" },
    {
      roles: "onlooker",
      table: "documents",
      may: "see",
      see: "title kind",
      where: all(test("documents", "kind", "is", literal("Drawing")), test("documents", "kind", "is", literal("Report"))),
    },
    {
      roles: "ward",
      table: "requests",
      may: "see add",
      see: "subject kind urgency site status asked-on asked-by message",
      acts: TALK,
      set: "subject kind urgency message",
      where: test("requests", "asked-by", "is", me),
      needs: "portal",
    },
    { roles: "visitor", table: "standards", may: "see", see: "title kind" },
    // The agency's own people
    { roles: "project-lead", table: "companies", may: "see change export", see: "*", set: "address client-since" },
    { roles: "project-lead", table: "people", may: "see", see: "name email status telephone sites companies" },
    { roles: "project-lead", table: "sites", may: "see add change export", see: "*", set: "*" },
    { roles: "project-lead", table: "projects", may: "see add change remove export", see: "*", set: "*" },
    { roles: "project-lead workshop", table: "signs", may: "see add change remove export", see: "*", set: "*" },
    { roles: "project-lead workshop", table: "proofs", may: "see add change remove", see: "*", set: "*" },
    { roles: "project-lead", table: "requests", may: "see add change export", see: "*", set: "*", acts: TALK },
    { roles: "project-lead", table: "documents", may: "see add change remove", see: "*", set: "*" },
    { roles: "workshop", table: "projects", may: "see", see: "title company stage due summary" },
    { roles: "workshop", table: "sites", may: "see", see: "*" },
    { roles: "workshop", table: "requests", may: "see", see: "*", where: test("requests", "status", "is-not", literal("Closed")) },
    { roles: "bookkeeper", table: "invoices", may: "see add change remove export", see: "*", set: "*" },
    { roles: "bookkeeper", table: "companies", may: "see export", see: "*" },
    { roles: "bookkeeper project-lead", table: "price-book", may: "see change", see: "*", set: "rate" },
    { roles: "project-lead workshop bookkeeper", table: "standards", may: "see add change", see: "*", set: "*" },
  ];

  const owned = (table: string, dotted: string): [string, { kind: "owned"; path: string[] }] => [
    schema.tableBySlug(table)!.id,
    { kind: "owned", path: path(table, dotted) },
  ];
  const requests = schema.tableBySlug("requests")!.id;
  return {
    portal: { name: "Fernhill Wayfinding", locale: "en-GB", timeZone: "Europe/London", currency: "GBP" },
    roles: [
      { id: "project-lead", name: "Project lead", side: "agency", includes: [], about: "Runs projects from survey to fitting." },
      { id: "workshop", name: "Workshop", side: "agency", includes: [], about: "Makes and repairs signs." },
      { id: "bookkeeper", name: "Bookkeeper", side: "agency", includes: [], about: "Invoices and rates." },
      { ...everyoneRole, includes: [] },
      {
        id: "member",
        name: "Member",
        side: "client",
        includes: [],
        about: "What everybody in a company may do; the other client roles include it.",
      },
      { id: "lead", name: "Lead", side: "client", includes: ["member"], about: "Everything of the company." },
      { id: "manager", name: "Site manager", side: "client", includes: ["member"], about: "Only the sites given to them." },
      { id: "approver", name: "Approver", side: "client", includes: ["member"], about: "Decides on proofs." },
      { id: "accounts", name: "Accounts", side: "client", includes: ["member"], about: "Invoices and the plan." },
      { id: "onlooker", name: "Onlooker", side: "client", includes: ["member"], about: "Reads projects." },
      {
        id: "ward",
        name: "Ward liaison",
        side: "client",
        includes: ["member"],
        companyId: saltmarsh,
        about: "Saltmarsh's own role: files requests and follows them.",
      },
      { id: "visitor", name: "Visitor", side: "visitor", includes: [], about: "Anybody who is not signed in." },
    ],
    walls: Object.fromEntries([
      ["t_companies", { kind: "owned", path: [] }],
      ["t_people", { kind: "owned", path: ["f_person_companies"] }],
      owned("sites", "company"),
      owned("projects", "company"),
      owned("signs", "project.company"),
      owned("proofs", "sign.project.company"),
      owned("requests", "company"),
      owned("invoices", "company"),
      owned("documents", "company"),
      [schema.tableBySlug("standards")!.id, { kind: "shared" }],
      [schema.tableBySlug("price-book")!.id, { kind: "agency-only" }],
    ]),
    grants: lines.map(grant),
    acts: [
      decide("approve", "Approve", "Approved"),
      decide("send-back", "Ask for changes", "Changes wanted"),
      {
        id: "accept-warranty",
        name: "I accept these terms",
        table: schema.tableBySlug("documents")!.id,
        on: "accept",
        sets: [],
        accepts: list("documents", "title kind dated file"),
      },
      { id: "talk", name: "Write about it", table: requests, on: "talk", sets: [] },
    ],
    safeguards: [
      guard("clients-cost", { kind: "side", side: "client" }, "signs", {
        kind: "field",
        action: "see",
        field: fieldId("signs", "unit-cost"),
      }),
      guard("clients-signs", { kind: "side", side: "client" }, "signs", {
        kind: "others",
        action: "see",
        way: path("signs", "project.company"),
      }),
      guard("clients-invoices", { kind: "side", side: "client" }, "invoices", {
        kind: "others",
        action: "see",
        way: path("invoices", "company"),
      }),
      guard("visitors-projects", { kind: "side", side: "visitor" }, "projects", { kind: "nothing", action: "see" }),
      guard("workshop-invoices", { kind: "role", role: "workshop" }, "invoices", { kind: "nothing", action: "see" }),
      guard("leads-signs", { kind: "role", role: "project-lead" }, "signs", { kind: "count", bound: "at least", n: 1000 }),
    ],
    ...demoPages(schema),
    ...demoOffer(requests),
  };
}
