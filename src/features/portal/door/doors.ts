/** What is said at the doors, and which of them stand on the sign-in page. */
import type { Say } from "@/core/words/words";
import type { Refused } from "@/identity/doors/contract";
import { type DoorId, doorSettings } from "@/identity/doors/settings";
import { providersOf } from "@/identity/providers/providers";
import type { PortalRequest } from "@/identity/requests/request";

const doorName = (say: Say, id: DoorId): string => say(`doors.${id}`);

export function refusedWords(say: Say, e: Refused, wrong: string): string {
  if (e.code === "too-many") return say("door.too-many", { seconds: e.seconds });
  if (e.code === "temporary-over") return say("door.temporary-over");
  if (e.code === "ended") return say("door.ended");
  if (e.code === "stopped") return say("second.stopped");
  if (e.code === "shut")
    return e.open.length > 0 ? say("door.shut", { doors: e.open.map((d) => doorName(say, d)).join(", ") }) : say("door.shut-all");
  return e.code === "link" ? say("link.gone") : wrong;
}

export interface OpenDoors {
  readonly password: boolean;
  readonly link: boolean;
  readonly codes: readonly { readonly id: "mail-code" | "sms-code"; readonly label: string }[];
  readonly passkey: boolean;
  readonly names: boolean;
  /** Some organisation has its own sign-in here. Which one is shown to whoever gives an address of it. */
  readonly outside: boolean;
}
export function openDoors(r: PortalRequest, say: Say): OpenDoors {
  const { open, names } = doorSettings(r.file);
  return {
    names,
    password: open.includes("password"),
    link: open.includes("link") || open.includes("password"),
    codes: (["mail-code", "sms-code"] as const)
      .filter((d) => open.includes(d))
      .map((id) => ({ id, label: say(id === "mail-code" ? "code.ask-mail" : "code.ask-sms") })),
    passkey: open.includes("passkey"),
    outside: open.includes("outside") && providersOf(r.file).length > 0,
  };
}

/** Organisations' own sign-ins for addresses of this domain: the names of clients are for their own people. */
export function organisationsOf(r: PortalRequest, domain: string): { readonly id: string; readonly name: string }[] {
  if (!doorSettings(r.file).open.includes("outside")) return [];
  return providersOf(r.file)
    .filter((p) => p.domains.includes(domain.toLowerCase()))
    .map(({ id, name }) => ({ id, name }));
}
