"use server";
/** Signing in inside another site's frame: what the frame asks, and what its tab answers. */
import { headers } from "next/headers";
import { redirect } from "next/navigation";
import { beginLimits, countTry, waitFor } from "@/identity/limits/limits";
import { enterFrame, fromHere } from "@/identity/requests/cookies";
import { word } from "@/identity/requests/takes";
import { approveFrame, type Begun, beginInFrame, takeFramed } from "@/identity/sessions/framed";
import { portalCall, portalForm } from "@/office/portal-action";
import { sayOf } from "../queries";

const here = async (): Promise<string> => (await headers()).get("x-elkhorn-from") ?? "unknown";

/** Null where no site may show this portal, or too often from one address. */
export const beginInside = portalCall([], async (r): Promise<Begun | null> => {
  if (r.published.definition.frames.length === 0) return null;
  const limits = beginLimits(await fromHere(r.file.id, r.base, ""));
  if (waitFor(r.file.orm, limits, r.viewer.now) > 0) return null;
  countTry(r.file.orm, limits, r.viewer.now);
  return beginInFrame(r.file, await here(), r.viewer.now);
});

export const askInside = portalCall([word, word], async (r, code, secret): Promise<"in" | "waits" | "over"> => {
  if (r.published.definition.frames.length === 0) return "over";
  const taken = takeFramed(r.file, String(code).slice(0, 100), String(secret).slice(0, 100), r.viewer.now);
  if (typeof taken === "string") return taken;
  await enterFrame(r.file, r.base, taken.token);
  return "in";
});

export const approveInside = portalForm([word], async (r, form, code) => {
  if (!r.session || !r.viewer.person) redirect(`${r.base}/sign-in?to=${encodeURIComponent(`/-/inside/${code}`)}`);
  const say = sayOf(r);
  const given = { code: String(code).slice(0, 100), number: form.text("number", 20) };
  const done = approveFrame(r.file, r.session, given, await here(), r.viewer.now);
  if (!done.ok) return done.error === "over" ? form.failed({}, say("inside.ended")) : form.failed({ number: say("inside.wrong") });
  return form.succeeded(say("inside.done"));
});
