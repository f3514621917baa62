/** The form for joining, as the owner wants it; null where nobody joins by themselves. */
import type { FormField } from "@/core/forms/form-field";
import { kindOf } from "@/core/schema/types";
import { schemaOf } from "@/data/tables/read";
import type { PortalRequest } from "@/identity/requests/request";
import { joinFields, joining, latestTerms } from "@/joining/settings";
import { sayOf } from "../queries";

export interface OpenJoinForm {
  readonly lead: string;
  readonly kinds: readonly { readonly id: string; readonly label: string }[];
  readonly fields: FormField[];
  /** Whether a company's name is asked for. */
  readonly company: boolean;
  readonly terms: string;
  /** Of what is read: another that is published meanwhile is read anew before it is agreed to. */
  readonly version: number;
  readonly wrote: boolean;
}

/** What somebody who joins is asked for; null where nobody may join by themselves. */
export function joinForm(r: PortalRequest): OpenJoinForm | null {
  const s = joining(r.file);
  if (s.who === "nobody") return null;
  const say = sayOf(r);
  const known = s.who === "known";
  const fields = joinFields(schemaOf(r.file))
    .filter((f) => !known && s.fields.includes(f.id))
    .map((f): FormField => {
      const kind = kindOf(f);
      const choices = kind.offers?.(f);
      return {
        id: f.id,
        name: f.name,
        type: f.type,
        required: f.options.required ?? false,
        many: kind.many !== null,
        value: [],
        ...(choices ? { choices } : {}),
        ...(f.options.help ? { hint: f.options.help } : {}),
      };
    });
  const lead =
    s.who === "domains" ? say("join.lead-domains", { domains: s.domains.join(", ") }) : say(known ? "join.lead-known" : "join.lead");
  return {
    lead,
    kinds: known ? [] : s.kinds.map((id) => ({ id, label: say(`join.${id}`) })),
    fields,
    company: !known && s.kinds.some((k) => k !== "alone"),
    terms: s.terms === "" ? "" : (latestTerms(r.file)?.body ?? ""),
    version: latestTerms(r.file)?.version ?? 0,
    wrote: !known && (s.approval || s.kinds.includes("member")),
  };
}
