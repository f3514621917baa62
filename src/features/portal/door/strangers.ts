/** What holds back whoever fills in forms without being signed in. */
import { beginLimits, countTry, waitFor } from "@/identity/limits/limits";
import { fromHere } from "@/identity/requests/cookies";
import type { PortalRequest } from "@/identity/requests/request";
import { sayOf } from "../queries";

/** Whoever is signed out: a field that nobody sees, and so many an hour from one address. */
export async function strangerProblem(r: PortalRequest, data: FormData): Promise<string | null> {
  if ((data.get("website") ?? "") !== "") return "";
  return strangerWaits(r);
}

/** The same of what is no form: acts that are granted to visitors. */
export async function strangerWaits(r: PortalRequest): Promise<string | null> {
  const from = await fromHere(r.file.id, r.base, "");
  const limits = beginLimits(from).map((l) => ({ ...l, key: `form ${l.key}`, free: 20 }));
  const wait = waitFor(r.file.orm, limits, r.viewer.now);
  if (wait > 0) return sayOf(r)("door.too-many", { seconds: Math.ceil(wait / 1000) });
  countTry(r.file.orm, limits, r.viewer.now);
  return null;
}
