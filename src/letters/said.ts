/** What every message may say of its receiver and of the portal, and the values of their own records. */
import { kindOf } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { saysValues, valueWords } from "@/data/messages/outbox";
import { actingOf } from "@/data/people/acting";
import { Desk } from "@/data/records/desk";
import { portalAddress } from "@/identity/requests/addresses";
import { viewerOf } from "@/identity/viewers/viewer";
/** What every message may say of its receiver and of the portal. */
export function saidOf(file: PortalFile, person: { name: string; email: string; id?: string }, now: number, tried = false) {
  const values = person.id && (tried || saysValues(file)) ? receiversValues(file, person.id, now) : undefined;
  return {
    ...(values ? { values } : {}),
    portal: published(file).definition.portal.name,
    address: portalAddress(file.slug),
    name: person.name,
    "first-name": person.name.split(" ")[0] ?? person.name,
    email: person.email,
  };
}

/** Only what the receiver may read inside, as they are or will be once they are in: a message opens nothing that the portal keeps shut. */
function receiversValues(file: PortalFile, personId: string, now: number): Record<string, string> {
  const acting = actingOf(file, personId);
  if (!acting) return {};
  const { policy, definition } = published(file);
  const asIn = { ...acting, person: { ...acting.person, status: "active" as const } };
  const viewer = viewerOf(file, asIn, null, now);
  const desk = new Desk(file, policy, viewer);
  const { people, companies } = policy.schema;
  const mine = desk.may(people, "see") ? desk.read(people, personId) : undefined;
  const company = viewer.company && desk.may(companies, "see") ? desk.read(companies, viewer.company.id) : undefined;
  const { timeZone } = definition.portal;
  return Object.fromEntries(
    valueWords(file).flatMap(({ word, field }) => {
      const v = (word.startsWith("person.") ? mine : company)?.fields[field.id];
      const choices = field.options.choices;
      const one = (x: unknown): string => choices?.find((c) => c.id === x)?.name ?? "";
      const said =
        v === undefined || v === null
          ? ""
          : choices
            ? (Array.isArray(v) ? v : [v]).map(one).join(", ")
            : (kindOf(field).texts(v as never, field, timeZone)[0] ?? "");
      return said ? [[word, said]] : [];
    }),
  );
}
