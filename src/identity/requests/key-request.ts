/** A program that asks with a key (RFC 6750): no cookie counts beside it, so no browser can be made to send it. */
import { headers } from "next/headers";
import { published } from "@/data/definition/published";
import { timeIn } from "@/data/file/clock";
import { portalFile } from "@/data/file/open";
import { Desk } from "@/data/records/desk";
import { KEY_IN_TEXT, noteLeak, openKey } from "../keys/keys";
import { countRequest, type Rate } from "../keys/rate";
import type { PortalRequest } from "./request";

export type KeyRequest =
  | { readonly state: "open"; readonly request: PortalRequest; readonly rate: Rate }
  | { readonly state: "unknown" | "ended" | "elsewhere" | "nobody" };

/** The token of an Authorization header; null where there is none, "" where it is of another scheme. */
export function bearerOf(header: string | null): string | null {
  if (header === null) return null;
  return /^Bearer +([A-Za-z0-9._~+/-]+=*)$/i.exec(header.trim())?.[1] ?? "";
}

/** Undefined where no portal has this address. */
export async function requestByKey(slug: string, token: string): Promise<KeyRequest | undefined> {
  const file = portalFile(slug);
  if (!file) return undefined;
  file.meta.look();
  const head = await headers();
  const real = Date.now();
  const opened = openKey(file, token, head.get("x-elkhorn-from") ?? "unknown", timeIn(file, real), real);
  if (opened.state !== "open") return opened;
  const { key, viewer } = opened;
  const live = published(file);
  const request: PortalRequest = {
    slug,
    file,
    published: live,
    viewer,
    desk: new Desk(file, live.policy, viewer, "api"),
    memberships: [],
    session: null,
    half: null,
    seeAs: null,
    waits: false,
    notInYet: false,
    mustChoosePassword: false,
    choosing: null,
    base: head.get("x-elkhorn-base") ?? `/p/${slug}`,
    path: head.get("x-elkhorn-path") ?? "/",
  };
  return { state: "open", request, rate: countRequest(`${file.id} ${key.id}`, key.perMinute, real) };
}

/** Whether an address has a key in it, which is then to be replaced. */
export function keyInAddress(slug: string, address: string): boolean {
  const found = (KEY_IN_TEXT.exec(address) ?? KEY_IN_TEXT.exec(plain(address)))?.[0];
  const file = found ? portalFile(slug) : undefined;
  if (found && file) noteLeak(file, found, Date.now());
  return found !== undefined;
}

function plain(address: string): string {
  try {
    return decodeURIComponent(address);
  } catch {
    return address;
  }
}
