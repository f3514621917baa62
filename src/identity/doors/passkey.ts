/** Door: a passkey (W3C Web Authentication, level 3), with the person verified by the device: what is held, and what is known or one's body. */
import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from "@simplewebauthn/server";
import { and, count, eq } from "drizzle-orm";
import { err, ok } from "@/core/result";
import { factors } from "@/data/file/portal-tables";
import { beginFlow, takeFlow } from "../secrets/flows";
import type { Shelf } from "../secrets/shelf";
import type { Door } from "./contract";

/** The relying party is the whole host of the portal: what was made on another address does not open this one. */
export interface Party {
  readonly host: string;
  readonly origin: string;
}
/** The relying party (WebAuthn Level 2, section 5.4.2) of an address. */
export const partyOf = (address: string): Party => ({ host: new URL(address).hostname, origin: new URL(address).origin });

const MOST = 20;
const ofPerson = (personId: string) => and(eq(factors.personId, personId), eq(factors.kind, "passkey"));

export interface PasskeyRow {
  readonly id: string;
  readonly name: string;
  readonly madeAt: number;
  readonly usedAt: number | null;
}
/** The passkeys of a person. */
export const passkeysOf = (shelf: Shelf, personId: string): PasskeyRow[] =>
  shelf.orm
    .select({ id: factors.id, name: factors.name, madeAt: factors.madeAt, usedAt: factors.usedAt })
    .from(factors)
    .where(ofPerson(personId))
    .orderBy(factors.madeAt)
    .all();

/** False where they have no such passkey. */
export const removePasskey = (shelf: Shelf, personId: string, id: string): boolean =>
  shelf.orm
    .delete(factors)
    .where(and(ofPerson(personId), eq(factors.id, id)))
    .run().changes === 1;

/** Null where they have very many already, or too much is under way. */
export async function beginNewPasskey(
  shelf: Shelf,
  who: { readonly id: string; readonly email: string; readonly name: string },
  party: Party,
  portal: string,
  now: number,
): Promise<PublicKeyCredentialCreationOptionsJSON | null> {
  if ((shelf.orm.select({ n: count() }).from(factors).where(ofPerson(who.id)).get()?.n ?? 0) >= MOST) return null;
  const options = await generateRegistrationOptions({
    rpName: portal,
    rpID: party.host,
    userName: who.email,
    userDisplayName: who.name,
    userID: new Uint8Array(Buffer.from(who.id)),
    attestationType: "none",
    excludeCredentials: passkeysOf(shelf, who.id).map(({ id }) => ({ id })),
    authenticatorSelection: { residentKey: "required", userVerification: "required" },
  });
  return beginFlow(shelf, "new passkey", options.challenge, { personId: who.id }, now) ? options : null;
}

/** False where the browser's answer does not hold (Web Authentication Level 2, section 7.1), or nothing was begun. */
export async function keepNewPasskey(
  shelf: Shelf,
  personId: string,
  response: RegistrationResponseJSON,
  name: string,
  party: Party,
  now: number,
): Promise<boolean> {
  try {
    const { verified, registrationInfo } = await verifyRegistrationResponse({
      response,
      expectedChallenge: (challenge) => takeFlow<{ personId: string }>(shelf, "new passkey", challenge, now)?.personId === personId,
      expectedOrigin: party.origin,
      expectedRPID: party.host,
      requireUserVerification: true,
    });
    if (!verified) return false;
    const { id, publicKey, counter } = registrationInfo.credential;
    const secret = Buffer.from(publicKey).toString("base64url");
    const row = {
      id,
      personId,
      kind: "passkey",
      name: name.trim().slice(0, 60) || "Passkey",
      secret,
      counter,
      host: party.host,
      confirmedAt: now,
      madeAt: now,
    };
    return shelf.orm.insert(factors).values(row).onConflictDoNothing().run().changes === 1;
  } catch {
    return false;
  }
}

/** For whoever is at the door: nothing in it tells who has one. */
export async function beginPasskey(shelf: Shelf, party: Party, now: number): Promise<PublicKeyCredentialRequestOptionsJSON | null> {
  const options = await generateAuthenticationOptions({ rpID: party.host, userVerification: "required" });
  return beginFlow(shelf, "passkey", options.challenge, {}, now) ? options : null;
}

/** Whose it is; null where it is nobody's, or was used before. */
export async function provePasskey(shelf: Shelf, response: AuthenticationResponseJSON, party: Party, now: number): Promise<string | null> {
  const own = and(eq(factors.id, String(response?.id ?? "")), eq(factors.kind, "passkey"), eq(factors.host, party.host));
  const row = shelf.orm.select().from(factors).where(own).get();
  if (!row) return null;
  try {
    const { verified, authenticationInfo } = await verifyAuthenticationResponse({
      response,
      expectedChallenge: (challenge) => takeFlow(shelf, "passkey", challenge, now) !== undefined,
      expectedOrigin: party.origin,
      expectedRPID: party.host,
      requireUserVerification: true,
      credential: { id: row.id, publicKey: new Uint8Array(Buffer.from(row.secret, "base64url")), counter: row.counter },
    });
    if (!verified) return null;
    shelf.orm.update(factors).set({ counter: authenticationInfo.newCounter, usedAt: now }).where(own).run();
    return row.personId;
  } catch {
    return null; // a signature that does not fit, a count that goes back, an answer that cannot be read
  }
}

export const passkeyDoor: Door<{ readonly response: AuthenticationResponseJSON; readonly party: Party }> = {
  id: "passkey",
  name: "Passkey",
  about: "A fingerprint, face or code of one’s own device. Made inside, on one’s own page; it is two factors in one.",
  twofold: true,
  async prove(file, { response, party }, _, now) {
    const personId = await provePasskey(file, response, party, now);
    return personId ? ok({ personId }) : err({ code: "wrong" });
  },
};
