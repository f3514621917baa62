"use server";
/** What is done with one record where it stands: acts, one field, a place on a board. The server decides anew at each press. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { z } from "zod";
import type { Field, Table } from "@/core/schema/types";
import { readForm } from "@/data/records/form";
import type { WriteError } from "@/data/records/write/incoming";
import { etagOf } from "@/data/records/write/write";
import type { PortalRequest } from "@/identity/requests/request";
import { whole, word } from "@/identity/requests/takes";
import { portalAction, portalCall } from "@/office/portal-action";
import { strangerWaits } from "../door/strangers";
import { listHref } from "../pages-for";
import { sayOf } from "../queries";
import { actingProblem } from "./forms";
import { refusedIn } from "./used-up";

export type ActAnswer = { ok: true; event: number; said: string } | { ok: false; message: string };
const text = z.string().max(200);

export const doActInPortal = portalAction([word, word, word], async (r, actId, record, acting): Promise<ActAnswer> => {
  const say = sayOf(r);
  const act = r.published.policy.act(actId);
  const other = actingProblem(r, acting);
  if (!act || other) return { ok: false, message: other ?? say("form.not-allowed") };
  const waits = r.viewer.kind === "visitor" ? await strangerWaits(r) : null;
  if (waits) return { ok: false, message: waits };
  const done = r.desk.act(act, record);
  if (!done.ok) return { ok: false, message: refusedAct(r, done.error) };
  revalidatePath("/", "layout");
  return { ok: true, event: done.value.event, said: say("act.done", { act: act.name }) };
});

/** `seen` is the version before whoever presses. It stays: what was accepted is not taken back. */
export const acceptInPortal = portalAction([word, word, word, word], async (r, actId, record, seen, acting): Promise<ActAnswer> => {
  const say = sayOf(r);
  const act = r.published.policy.act(actId);
  const other = actingProblem(r, acting);
  if (act?.on !== "accept" || other) return { ok: false, message: other ?? say("form.not-allowed") };
  const done = r.desk.accept(act, record, seen);
  revalidatePath("/", "layout");
  if (!done.ok) return { ok: false, message: done.error.code === "stale" ? say("accept.changed") : refusedAct(r, done.error) };
  return { ok: true, event: done.value.event, said: say("accept.done") };
});

export const takeBack = portalCall([whole], async (r, event): Promise<{ message: string }> => {
  const say = sayOf(r);
  const done = r.desk.undoAct(event);
  if (!done.ok) return { message: say(done.error === "changed" ? "act.changed-since" : "act.too-late") };
  revalidatePath("/", "layout");
  return { message: say("said.back") };
});

const refusedAct = (r: PortalRequest, e: WriteError): string => {
  const { fields, message } = refusedIn(r, e);
  if (e.code === "not-allowed" || e.code === "not-found") return sayOf(r)("act.not-now");
  return Object.values(fields)[0] ?? message ?? sayOf(r)("form.not-allowed");
};

/** `before` is what goes back to undo it, as the field was typed; `seen` the record as it is now. */
export type PlaceAnswer = { ok: true; seen: string } | { ok: false; message: string; stale?: true };

const placing = z.object({
  table: text,
  record: text,
  field: text,
  acting: text,
  seen: text.nullable(),
  values: z.array(z.string().max(20_000)).max(200),
});
export type Placing = z.infer<typeof placing>;

/** Changes one field of one record in place. `seen` null overwrites whatever is there, which only undo does. */
export const placeValue = portalAction([placing], async (r, asked): Promise<PlaceAnswer> => {
  const say = sayOf(r);
  const other = actingProblem(r, asked.acting);
  if (other) return { ok: false, message: other };
  const table = r.desk.schema.findTable(asked.table);
  const field = table && r.desk.settable(table, "change").find((f) => f.id === asked.field);
  if (!table || !field) return { ok: false, message: say("form.not-allowed") };
  return placed(r, table, field, asked);
});

function placed(r: PortalRequest, table: Table, field: Field, asked: Placing): PlaceAnswer {
  const say = sayOf(r);
  const data = new FormData();
  for (const v of asked.values.length > 0 ? asked.values : [""]) data.append(field.id, v);
  const { values, errors } = readForm(r.desk, table, data);
  if (errors[field.id]) return { ok: false, message: errors[field.id]! };
  const done = r.desk.change(table, asked.record, values, asked.seen);
  if (!done.ok) {
    if (done.error.code === "stale") return { ok: false, stale: true, message: say("place.stale") };
    const { fields, message } = refusedIn(r, done.error);
    const denied = done.error.code === "not-allowed" || done.error.code === "not-found";
    return { ok: false, message: denied ? say("form.not-allowed") : (fields[field.id] ?? message ?? say("form.not-allowed")) };
  }
  revalidatePath("/", "layout");
  return { ok: true, seen: etagOf(done.value.read()) };
}

const removing = z.object({ table: text, record: text, acting: text, seen: text });

/** On success the page of the record is left for the list; what was removed lies in the bin. */
export const removeInPortal = portalAction([removing], async (r, asked): Promise<{ ok: true } | { ok: false; message: string }> => {
  const table = r.desk.schema.findTable(asked.table);
  if (!table) return { ok: false, message: sayOf(r)("form.not-allowed") };
  const other = actingProblem(r, asked.acting);
  if (other) return { ok: false, message: other };
  const done = r.desk.remove(table, asked.record, asked.seen);
  if (!done.ok) return { ok: false, message: done.error.code === "stale" ? sayOf(r)("place.stale") : refusedAct(r, done.error) };
  revalidatePath("/", "layout");
  redirect(listHref(r, table.id) ?? (r.base || "/"));
});
