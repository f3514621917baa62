"use server";
/** What is done with a list: views kept by name, acts with several records at once. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { doingOf } from "@/core/access/rules";
import { dropViewOf, keepViewOf } from "@/data/views/kept";
import { text, whole, word, words } from "@/identity/requests/takes";
import { portalCall, portalForm } from "@/office/portal-action";
import { sayOf } from "../queries";
import { actingProblem } from "./forms";

export const keepView = portalForm([word, text], (r, form, section, query) => {
  const say = sayOf(r);
  const done = keepViewOf(r.file, r.viewer, String(section), { name: form.text("name", 500), query: String(query) });
  if (!done.ok) return form.failed({ name: say(`views.${done.error}`) });
  revalidatePath("/", "layout");
  return form.succeeded(say("views.kept"));
});

export const dropView = portalCall([word], async (r, id): Promise<void> => {
  dropViewOf(r.file, r.viewer, String(id));
  revalidatePath("/", "layout");
});

/** As many stand on one page of a list. */
const MOST = 200;

export interface SeveralAnswer {
  readonly said: string;
  readonly tone: "good" | "trouble";
  /** By which all that was done is taken back. */
  readonly events: readonly number[];
}

/** One act with several records. Each is decided by itself: what may not be done is left, and counted. */
export const doSeveral = portalCall([word, words, word], async (r, actId, records, acting): Promise<SeveralAnswer> => {
  const say = sayOf(r);
  const act = r.published.policy.act(String(actId));
  const table = act && r.desk.schema.findTable(act.table);
  const other = actingProblem(r, String(acting));
  const ids = Array.isArray(records) ? [...new Set(records.map(String))].slice(0, MOST) : [];
  if (!act || !table || act.on !== "change" || other || ids.length === 0)
    return { said: other ?? say("form.not-allowed"), tone: "trouble", events: [] };
  const open = r.desk.whereMay(table, doingOf(act), ids);
  const events = ids
    .filter((id) => open.has(id))
    .flatMap((id) => {
      const done = r.desk.act(act, id);
      return done.ok ? [done.value.event] : [];
    });
  revalidatePath("/", "layout");
  const left = ids.length - events.length;
  const said = say("several.done", { act: act.name, n: events.length });
  return { said: left > 0 ? `${said} ${say("several.left", { n: left })}` : said, tone: events.length > 0 ? "good" : "trouble", events };
});

export const takeSeveralBack = portalCall([z.array(whole).max(100_000).readonly()], async (r, events): Promise<{ message: string }> => {
  const say = sayOf(r);
  const asked = Array.isArray(events) ? events.filter((e) => Number.isSafeInteger(e)).slice(0, MOST) : [];
  const back = asked.filter((e) => r.desk.undoAct(e).ok).length;
  revalidatePath("/", "layout");
  if (back < asked.length) return { message: say("several.not-all", { n: back, left: asked.length - back }) };
  return { message: say("said.back") };
});
