/** Doors of the demo: codes by SMS too, joining with approval and somebody who waits, companies that look after themselves, two more of staff, an organisation. */
import { readFileSync } from "node:fs";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalFile } from "@/data/file/open";
import { AT_FIRST, keepDoors } from "@/identity/doors/settings";
import { addProvider } from "@/identity/providers/providers";
import { joinToken } from "@/identity/secrets/join-links";
import { keepCompanySettings } from "@/joining/company-settings";
import { confirmJoin, wantToJoin } from "@/joining/joining";
import { keepJoining } from "@/joining/settings";
import { acceptStaff, inviteStaff } from "@/staff/staff";

const HOUR = 3_600_000;
const NEWCOMERS = [
  {
    email: "corwin@pellquay.example",
    name: "Corwin Hale",
    kind: "member",
    company: "Pell & Quay Ferries",
    wrote: "I take over the slipway from Sunniva in spring.",
  },
] as const;

export interface DemoStaff {
  readonly name: string;
  readonly email: string;
  readonly password: string;
  readonly role: string;
}
const STAFF: readonly DemoStaff[] = [
  { name: "Hester Vane", email: "hester@fernhill.example", password: "hester-answers-the-bell", role: "support" },
  { name: "Piet Lander", email: "piet@fernhill.example", password: "piet-counts-the-coins-twice", role: "billing" },
];

export async function makeDoors(file: PortalFile, owner: Owner, now: number): Promise<void> {
  keepDoors(file, owner, { ...AT_FIRST, open: [...AT_FIRST.open, "sms-code", "outside"] });
  const kept = keepJoining(file, owner, {
    who: "anybody",
    domains: [],
    approval: true,
    kinds: ["company", "member"],
    fields: file.db
      .prepare("SELECT id FROM sys_fields WHERE table_id IN ('t_people', 't_companies') AND slug IN ('telephone', 'address')")
      .pluck()
      .all(),
    fixed: {},
    lead: "lead",
    member: "member",
    terms:
      "Proofs are answered within ten working days. What is made to measure is not taken back. What you write here is seen by Fernhill Wayfinding and by your own company, by nobody else.",
  });
  if (!kept.ok) throw new Error(kept.error);
  keepCompanySettings(file, owner, { leads: ["lead"], give: ["member", "onlooker", "approver"], seats: 12, seatsOf: {} });
  for (const [i, n] of NEWCOMERS.entries()) {
    const at = now - (i + 2) * 9 * HOUR;
    const asked = wantToJoin(file, { ...n, values: {}, agreed: true, read: 1 }, { address: "demo", device: null }, at);
    if (!asked.ok) throw new Error(JSON.stringify(asked.error));
    const id = file.db.prepare("SELECT id FROM sys_joins ORDER BY rowid DESC LIMIT 1").pluck().get() as string;
    confirmJoin(file, joinToken(file, id), at + 60_000);
  }
  file.db.exec("DELETE FROM sys_jobs WHERE kind = 'somebody asks to join'; DELETE FROM sys_sessions; DELETE FROM sys_attempts;");
  for (const s of STAFF) {
    const asked = inviteStaff(owner, s);
    if (asked.ok) await acceptStaff(asked.value.token, s.password, now);
  }
}

/** The stand-in organisation, where the demo starts one: it speaks for the people of one client. */
export function makeProviders(file: PortalFile, owner: Owner, described: string): { oidc: string; saml: string } {
  const p = JSON.parse(readFileSync(described, "utf8")) as { origin: string; secret: string; metadata: string; domains: string[] };
  const add = (given: Record<string, unknown>): string => {
    const done = addProvider(file, owner, { domains: p.domains, ...given });
    if (!done.ok) throw new Error(done.error.message);
    return done.value.id;
  };
  return {
    oidc: add({ kind: "oidc", name: "Tarnmere", issuer: p.origin, client: "elkhorn", secret: p.secret }),
    saml: add({ kind: "saml", name: "Tarnmere (SAML)", metadata: p.metadata }),
  };
}

export const demoStaff = (): readonly DemoStaff[] => STAFF;
