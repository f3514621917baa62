"use server";
/** Writing in a conversation, and telling those who take part in it. */
import { revalidatePath } from "next/cache";
import type { Table } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import { talkFieldId } from "@/data/files/talk";
import { membershipsOf } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { portalAddress } from "@/identity/requests/addresses";
import type { PortalRequest } from "@/identity/requests/request";
import { personViewer } from "@/identity/viewers/viewer";
import { tellOfMessage } from "@/letters/letters";
import { portalForm } from "@/office/portal-action";
import { allPagesFor } from "../pages-for";
import { sayOf } from "../queries";
import { actingProblem } from "./forms";

export const talkInPortal = portalForm([], (r, form) => {
  const say = sayOf(r);
  const other = actingProblem(r, form.text("$acting"));
  if (other) return form.failed({}, other);
  const table = r.desk.schema.findTable(form.text("$table"));
  const id = form.text("$id").slice(0, 100);
  const inside = form.data.get("inside") === "1";
  const files = table ? form.data.getAll(talkFieldId(table)).map(String).filter(Boolean) : [];
  const done = table && r.desk.say(table, id, form.text("words", 20_000), inside, files);
  if (!table || !done || (!done.ok && done.error === "not-found")) return form.failed({}, say("form.not-allowed"));
  if (!done.ok) return form.failed({ words: say(`talk.${done.error as "empty" | "long" | "many" | "files"}`) });
  if (!inside) tellOthers(r, table, id, done.value.others);
  revalidatePath("/", "layout");
  return form.succeeded("");
});

/** Only those who could read the message themselves: whoever lost sight of the record since hears nothing of it. */
function tellOthers(r: PortalRequest, table: Table, id: string, people: readonly string[]): void {
  const page = allPagesFor(r).sheetOf(table.id);
  if (!page) return;
  const by = (desk: Desk): string => desk.labelOf(desk.schema.people, r.viewer.person?.id ?? "") ?? r.published.definition.portal.name;
  for (const person of people.slice(0, 50)) {
    const desk = readingDesk(r, table, id, person);
    const seen = desk?.read(table, id);
    if (!desk || !seen) continue;
    tellOfMessage(
      r.file,
      person,
      by(desk),
      `${desk.label(table, seen)}\n${portalAddress(r.file.slug)}/${page.address}/${id}`,
      r.viewer.now,
    );
  }
}

/** As whichever of their memberships they take part: somebody of two companies reads it in one of them. */
function readingDesk(r: PortalRequest, table: Table, id: string, person: string): Desk | undefined {
  for (const m of membershipsOf(r.file, person)) {
    const viewer = personViewer(r.file, person, m.id, r.viewer.now);
    if (viewer?.person?.status !== "active") continue;
    const desk = new Desk(r.file, published(r.file).policy, viewer);
    if (desk.conversation(table, id)) return desk;
  }
  return undefined;
}
