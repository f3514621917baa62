"use server";
/** Writing in a conversation. Those who took part before are told by a letter that follows the event. */
import { revalidatePath } from "next/cache";
import { talkFieldId } from "@/data/files/talk";
import { portalForm } from "@/office/portal-action";
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
  revalidatePath("/", "layout");
  return form.succeeded("");
});
