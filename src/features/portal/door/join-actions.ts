"use server";
/** Joining by oneself, and what leads do for their company. */
import { revalidatePath } from "next/cache";
import { redirect } from "next/navigation";
import { safePath } from "@/core/address/safe-path";
import { type JoinKind, KINDS } from "@/core/joining/joining";
import { fromHere } from "@/identity/requests/cookies";
import { enterPortal, type PortalRequest, requestPortalWrite } from "@/identity/requests/request";
import { companyDesk } from "@/joining/company-page";
import { confirmJoin, wantToJoin } from "@/joining/joining";
import { joining } from "@/joining/settings";
import { type FormState, failed, succeeded } from "@/ui/forms/form";
import { sayOf } from "../queries";

const text = (data: FormData, name: string, most = 300): string => String(data.get(name) ?? "").slice(0, most);

/** The same answer for every e-mail that is well written. */
export async function askToJoin(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const kinds = joining(r.file).kinds;
  const kind = KINDS.find((k) => k === text(data, "kind")) ?? kinds[0]!;
  const own = new Set(["email", "name", "company", "kind", "wrote", "terms", "version", "to"]);
  const values = Object.fromEntries(
    [...new Set(data.keys())]
      .filter((k) => !own.has(k) && !k.startsWith("$"))
      .map((k) => [k, data.getAll(k).map((v) => String(v).slice(0, 5_000))]),
  );
  const asked = {
    email: text(data, "email"),
    name: text(data, "name"),
    kind: kind as JoinKind,
    company: text(data, "company"),
    values,
    wrote: text(data, "wrote", 2_000),
    agreed: data.get("terms") === "on",
    read: Number(text(data, "version", 20)) || 0,
    back: safePath(text(data, "to", 500)),
  };
  const done = wantToJoin(r.file, asked, await fromHere(r.file.id, r.base, asked.email), r.viewer.now);
  if (!done.ok) return failed(before, data, done.error, done.error[""]);
  return succeeded(before, say("join.sent", { email: asked.email.trim() }));
}

export async function finishJoining(before: FormState, data: FormData): Promise<FormState> {
  const r = await requestPortalWrite();
  const say = sayOf(r);
  const done = confirmJoin(r.file, text(data, "token", 500), r.viewer.now);
  if (!done.ok) return failed(before, data, {}, say(done.error === "known" ? "join.known" : "join.gone"));
  await enterPortal(r.file, r.base, done.value.token, null);
  revalidatePath("/", "layout");
  const { waits, withCompany, back } = done.value;
  const home = withCompany ? "/-/company?new=1" : "/";
  // What they had chosen before they asked is where they go on.
  redirect(r.base + (waits ? "/-/waiting" : safePath(back) === "/" ? home : safePath(back)));
}

async function leading(): Promise<{ r: PortalRequest; desk: NonNullable<ReturnType<typeof companyDesk>> } | null> {
  const r = await requestPortalWrite();
  const desk = r.session ? companyDesk(r.file, r.viewer) : null;
  return desk && { r, desk };
}

export async function inviteColleague(before: FormState, data: FormData): Promise<FormState> {
  const l = await leading();
  if (!l) return failed(before, data, {}, "This is for those who lead the company.");
  const email = text(data, "email");
  const done = l.desk.invite(text(data, "name"), email, text(data, "role"));
  if (!done.ok)
    return done.error.field
      ? failed(before, data, { [done.error.field]: done.error.message })
      : failed(before, data, {}, done.error.message);
  revalidatePath("/", "layout");
  return succeeded(before, sayOf(l.r)("company.invited", { email: email.trim() }));
}

export async function changeColleague(membershipId: string, before: FormState, data: FormData): Promise<FormState> {
  const l = await leading();
  if (!l) return failed(before, data, {}, "This is for those who lead the company.");
  const act = text(data, "act");
  const problem =
    act === "out"
      ? l.desk.takeOut(membershipId)
      : act === "lead"
        ? l.desk.handOver(membershipId)
        : l.desk.setRoles(membershipId, data.getAll("roles").map(String));
  if (problem) return failed(before, data, {}, problem);
  revalidatePath("/", "layout");
  if (act === "lead") redirect(l.r.base || "/");
  return succeeded(before, sayOf(l.r)("company.kept"));
}
