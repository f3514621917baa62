"use server";
/** Joining by oneself, and what leads do for their company. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { safePath } from "@/core/address/safe-path";
import { type JoinKind, KINDS } from "@/core/joining/joining";
import { fromHere } from "@/identity/requests/cookies";
import { enterPortal, type PortalRequest } from "@/identity/requests/request";
import { word } from "@/identity/requests/takes";
import { companyDesk } from "@/joining/company-page";
import { confirmJoin, wantToJoin } from "@/joining/joining";
import { joining } from "@/joining/settings";
import { portalForm } from "@/office/portal-action";
import { sayOf } from "../queries";

/** The same answer for every e-mail that is well written. */
export const askToJoin = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const kinds = joining(r.file).kinds;
  const kind = KINDS.find((k) => k === form.text("kind")) ?? kinds[0]!;
  const own = new Set(["email", "name", "company", "kind", "wrote", "terms", "version", "to"]);
  const values = Object.fromEntries(
    [...new Set(form.data.keys())]
      .filter((k) => !own.has(k) && !k.startsWith("$"))
      .map((k) => [k, form.data.getAll(k).map((v) => String(v).slice(0, 5_000))]),
  );
  const asked = {
    email: form.text("email"),
    name: form.text("name"),
    kind: kind as JoinKind,
    company: form.text("company"),
    values,
    wrote: form.text("wrote", 2_000),
    agreed: form.ticked("terms"),
    read: Number(form.text("version", 20)) || 0,
    back: safePath(form.text("to", 500)),
  };
  const done = wantToJoin(r.file, asked, await fromHere(r.file.id, r.base, asked.email), r.viewer.now);
  if (!done.ok) return form.failed(done.error, done.error[""]);
  return form.succeeded(say("join.sent", { email: asked.email.trim() }));
});

export const finishJoining = portalForm([], async (r, form) => {
  const say = sayOf(r);
  const done = confirmJoin(r.file, form.text("token", 500), r.viewer.now);
  if (!done.ok) return form.failed({}, say(done.error === "known" ? "join.known" : "join.gone"));
  await enterPortal(r.file, r.base, done.value.token, null);
  revalidatePath("/", "layout");
  const { waits, withCompany, back } = done.value;
  const home = withCompany ? "/-/company?new=1" : "/";
  // What they had chosen before they asked is where they go on.
  redirect(r.base + (waits ? "/-/waiting" : safePath(back) === "/" ? home : safePath(back)));
});

/** What a lead may do with their company's people; null for anybody else. */
const ledBy = (r: PortalRequest): ReturnType<typeof companyDesk> => (r.session ? companyDesk(r.file, r.viewer) : null);
const NO_LEAD = "This is for those who lead the company.";

export const inviteColleague = portalForm([], (r, form) => {
  const desk = ledBy(r);
  if (!desk) return form.failed({}, NO_LEAD);
  const email = form.text("email", 300);
  const done = desk.invite(form.text("name", 300), email, form.text("role", 300));
  if (!done.ok) return done.error.field ? form.failed({ [done.error.field]: done.error.message }) : form.failed({}, done.error.message);
  revalidatePath("/", "layout");
  return form.succeeded(sayOf(r)("company.invited", { email: email.trim() }));
});

export const changeColleague = portalForm([word], (r, form, membershipId) => {
  const desk = ledBy(r);
  if (!desk) return form.failed({}, NO_LEAD);
  const act = form.text("act");
  const problem =
    act === "out"
      ? desk.takeOut(membershipId)
      : act === "lead"
        ? desk.handOver(membershipId)
        : desk.setRoles(membershipId, form.all("roles"));
  if (problem) return form.failed({}, problem);
  revalidatePath("/", "layout");
  if (act === "lead") redirect(r.base || "/");
  return form.succeeded(sayOf(r)("company.kept"));
});
