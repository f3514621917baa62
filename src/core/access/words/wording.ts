/** The one place where access becomes sentences: grants and walls for the owner, reasons and steps for whoever asks why. */

import type { Condition, Operand, Test } from "../../schema/condition";
import { SELF } from "../../schema/condition";
import { kindOf, operatorWords, type Scalar, type Schema, type Value } from "../../schema/types";
import { list } from "../../text/list";
import type { Reason } from "../decision";
import type { Policy } from "../policy";
import { type Action, actIdOf, type Doing, EVERYONE, type Grant, type Wall } from "../rules";
import type { Trace } from "../trace";
import type { Explanation, Step } from "./explain";

/** Names for ids that the sentences mention; what has no name is shown as it is. */
export interface Names {
  company(id: string): string | undefined;
  record(tableId: string, id: string): string | undefined;
  feature(id: string): string | undefined;
}

const VERBS: Readonly<Record<Action, string>> = { see: "see", add: "add", change: "change", remove: "remove", export: "export" };

/** What is done, as it stands before the name of a table: "see", or “Approve”. */
function verb(policy: Policy, d: Doing): string {
  const act = policy.act(actIdOf(d));
  return act ? `“${act.name}”` : (VERBS[d as Action] ?? "do");
}

/** The names of the fields on the way, with an arrow between them. */
export const pathWords = (schema: Schema, path: readonly string[]): string =>
  path.map((id) => (id === SELF ? "the record itself" : (schema.findField(id)?.name ?? "a missing field"))).join(" › ");

function operandWords(schema: Schema, o: Operand, test: Test, names?: Names): string {
  switch (o.kind) {
    case "literal":
      return list(
        (Array.isArray(o.value) ? o.value : [o.value]).map((v) => valueWords(schema, test.path[test.path.length - 1]!, v, names)),
        "or",
      );
    case "viewer": {
      if (o.of === "bought") return "what was bought one by one";
      const whose = o.of === "person" ? "the person" : "the person's company";
      return o.field
        ? `${o.of === "person" ? "the person's" : "their company's"} ${schema.findField(o.field)?.name ?? "missing field"}`
        : whose;
    }
    case "date":
      return o.days === 0 ? o.anchor : `${Math.abs(o.days)} days ${o.days < 0 ? "before" : "after"} ${o.anchor}`;
  }
}

function valueWords(schema: Schema, fieldId: string, v: Value, names?: Names): string {
  const f = schema.findField(fieldId);
  if (v === null || v === "") return "nothing";
  if (typeof v === "boolean") return v ? "yes" : "no";
  if (Array.isArray(v))
    return v.length === 0
      ? "nothing"
      : list(
          v.map((x) => valueWords(schema, fieldId, x, names)),
          "and",
        );
  if (f?.options.target) return names?.record(f.options.target, String(v)) ?? "another record";
  return f ? kindOf(f).literalWords(v as Scalar, f) : typeof v === "number" ? String(v) : `“${v}”`;
}

/** A condition as the part of a sentence that follows "where"; empty where there is none. */
export function conditionWords(schema: Schema, c: Condition | null, names?: Names): string {
  if (!c) return "";
  switch (c.kind) {
    case "test": {
      const type = schema.findField(c.path[c.path.length - 1]!)?.type ?? "text";
      const operands = c.operands.map((o) => operandWords(schema, o, c, names)).join(" and ");
      return `${pathWords(schema, c.path)} ${operatorWords(c.operator, type)}${operands ? ` ${operands}` : ""}`;
    }
    case "all":
      return c.of.length === 0 ? "always" : c.of.map((x) => conditionWords(schema, x, names)).join(" and ");
    case "any":
      if (c.of.length < 2) return c.of[0] ? conditionWords(schema, c.of[0], names) : "never";
      return `(${c.of.map((x) => conditionWords(schema, x, names)).join(" or ")})`;
    case "not":
      return `not (${conditionWords(schema, c.of, names)})`;
  }
}

/** A grant as one English sentence. */
export function grantSentence(policy: Policy, g: Grant, names?: Names): string {
  const table = policy.schema.findTable(g.table);
  const who = list(
    g.roles.map((r) => policy.role(r)?.name ?? "a removed role"),
    "and",
  );
  const actions = list([...g.actions.map((a) => VERBS[a]), ...(g.acts ?? []).map((id) => verb(policy, `act:${id}`))], "and");
  const where = g.filter ? ` where ${conditionWords(policy.schema, g.filter, names)}` : "";
  const feature = g.feature ? `, while their plan includes ${names?.feature(g.feature) ?? g.feature}` : "";
  const from = g.validFrom ? `, from ${g.validFrom}` : "";
  const until = g.validUntil ? `, until ${g.validUntil}` : "";
  return `${who} may ${actions} ${table?.name ?? "a removed table"}${where}${feature}${from}${until}.`;
}

/** A table's wall as one English sentence. */
export function wallSentence(schema: Schema, tableId: string, wall: Wall): string {
  const name = schema.table(tableId).name;
  switch (wall.kind) {
    case "shared":
      return `Shared: grants may open ${name} to any company and to visitors.`;
    case "agency-only":
      return `Agency only: no grant opens ${name} to a client.`;
    case "owned":
      return wall.path.length === 0
        ? `Owned: of ${name}, each sees itself alone.`
        : `Owned: each record of ${name} belongs to the company that ${pathWords(schema, wall.path)} leads to.`;
  }
}

export function failureWords(schema: Schema, t: Trace, names?: Names): string {
  if (t.note === "broken path") return `${pathWords(schema, t.path)} is empty`;
  if (t.note === "nothing can match") return "a value of the person that the filter compares with is empty, so it matches nothing";
  if (t.note === "not") return "it meets a test that it must not meet";
  if (t.note === "owned" || !t.test) return "it belongs to another company or to none";
  const fieldId = t.path[t.path.length - 1];
  if (!fieldId) return "it is another record";
  const type = schema.findField(fieldId)?.type ?? "text";
  const wanted = list(
    t.test.wanted.map((v) => valueWords(schema, fieldId, v, names)),
    "or",
  );
  const asks = `${operatorWords(t.test.operator, type)}${wanted ? ` ${wanted}` : ""}`;
  const path = pathWords(schema, t.path);
  return `${path} is ${valueWords(schema, fieldId, t.test.found, names)}, and the grant asks that it ${asks}`;
}

/** Why somebody sees a record, as one English sentence. */
export function reasonSentence(policy: Policy, r: Reason, names?: Names): string {
  const table = (id: string) => policy.schema.findTable(id)?.name ?? "this table";
  switch (r.code) {
    case "account":
      return `The account is ${r.status}, so it opens nothing.`;
    case "signed-out":
      return `Nobody is signed in, and ${table(r.table)} are not shared.`;
    case "no-company":
      return `The person belongs to no company, so no ${table(r.table)} can be theirs.`;
    case "agency-only":
      return `The agency keeps ${table(r.table)} to itself.`;
    case "wall":
      return r.found ? "It belongs to another company." : "It belongs to no company: a relation on the way to one is empty.";
    case "feature":
      return `A grant would open it, but the company's plan does not include ${names?.feature(r.feature) ?? r.feature}.`;
    case "not-yet":
      return `A grant opens it from ${r.date}.`;
    case "over":
      return `A grant opened it until ${r.date}.`;
    case "no-grant":
      return `No grant lets the person's roles ${verb(policy, r.action)} ${table(r.table)}.`;
    case "filter":
      return `A grant on it does not match: ${list(
        r.failed.map((f) => failureWords(policy.schema, f, names)),
        "and",
      )}.`;
    case "field":
      return `${policy.schema.findField(r.field)?.name ?? "This field"} may not be set by this person.`;
    case "relation":
      return `${policy.schema.findField(r.field)?.name ?? "This field"} must point to a record that this person sees.`;
    case "after":
      return "After the change the record would be out of this person's reach.";
    case "books":
      return `${policy.schema.table(r.table).name} are written by Elkhorn, and by nobody else.`;
    case "key":
      return `This key is not for ${table(r.table)}, or not for that.`;
    case "unseen":
      return "There is no such record.";
  }
}

export function stepSentence(policy: Policy, s: Step, names?: Names): string {
  switch (s.step) {
    case "owner":
      return "The owner has everything.";
    case "account":
      return s.holds ? `The account is ${s.status}.` : `The account is ${s.status}, so it opens nothing.`;
    case "membership": {
      const roles = list(
        s.roles.filter((r) => r !== EVERYONE).map((r) => policy.role(r)?.name ?? r),
        "and",
      );
      return s.holds ? `Acts ${s.company ? `for ${s.company}` : "for the agency"} as ${roles}.` : "Holds no role that counts here.";
    }
    case "wall":
      if (s.kind === "agency-only" && !s.holds) return "The table is the agency's alone.";
      if (s.kind === "shared") return "The table is shared between companies.";
      return s.holds
        ? "The record is on this person's side of the company wall."
        : `The wall refuses: ${s.found ? "it belongs to another company" : "it leads to no company of theirs"}.`;
    case "grant": {
      const g = policy.rules.grants.find((x) => x.id === s.grant);
      const sentence = g ? grantSentence(policy, g, names) : "A grant.";
      if (s.holds) return `Matches: ${sentence}`;
      const failed = list(
        s.failed.map((f) => failureWords(policy.schema, f, names)),
        "and",
      );
      const rest = s.withheld ? " It asks for more that you do not read here." : "";
      return `Does not match: ${sentence}${failed && ` But ${failed}.`}${rest}`;
    }
    case "unseen":
      return `They do not see the record, so they may not ${verb(policy, s.action)} it.`;
    case "set-aside":
      return reasonSentence(policy, s.reason, names);
    case "no-grant":
      return reasonSentence(policy, { code: "no-grant", action: s.action, table: s.table }, names);
  }
}

/** Each step of an explanation as a sentence, and whether it holds. */
export const explanationSentences = (policy: Policy, e: Explanation, names?: Names): { text: string; holds: boolean }[] =>
  e.steps.map((s) => ({ text: stepSentence(policy, s, names), holds: s.holds }));
