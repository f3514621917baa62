/** Whom somebody means at a door: by an e-mail address, or by a name where the portal has such. */
import type { PortalFile } from "@/data/file/open";
import { personIdBySignIn } from "@/data/people/account";
import { personIdByEmail } from "@/data/people/people";
import { doorSettings } from "./settings";

/** The person with this e-mail address or sign-in name; undefined where nobody is. */
export const whoIsMeant = (file: PortalFile, given: string): string | undefined =>
  doorSettings(file).names ? personIdBySignIn(file, given) : personIdByEmail(file, given);
