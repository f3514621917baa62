"use server";
/** Keys of programs: made, ended, brought back, removed. */
import { revalidatePath } from "next/cache";
import { KEY_ACTIONS, type KeyAction, type Within } from "@/core/access/who/within";
import { dropKey, type KeyHolder, makeKey, setEnded } from "@/identity/keys/keys";
import { readNetworks } from "@/identity/keys/networks";
import { word } from "@/identity/requests/takes";
import { officeAction, officeForm } from "@/office/action";
import { staleSignIn } from "@/office/fresh";
import type { FormState } from "@/ui/forms/form";
import type { SentForm } from "@/ui/forms/sent-form";
import type { Undoable } from "@/ui/undoable-button";

export interface MadeKey extends FormState {
  /** Told this once. */
  readonly token?: string;
}

const FIELDS: Readonly<Record<string, string>> = { of: "of", within: "within" };

export const addKey = officeForm("build", [], (p, form): MadeKey => {
  const stale = staleSignIn(p);
  if (stale) return form.failed({}, stale);
  const networks = readNetworks(form.text("networks", 5_000));
  if (!networks.ok) return form.failed({ networks: networks.error });
  const days = form.text("days", 10);
  const made = makeKey(p.file, p.owner, {
    name: form.text("name", 100),
    of: holderIn(form),
    within: form.text("reach", 10) === "some" ? withinOf(form.all("table")) : null,
    networks: networks.value,
    tools: form.ticked("tools"),
    perMinute: Number(form.text("perMinute", 10)),
    days: days === "never" ? null : Number(days),
  });
  if (!made.ok) {
    const { field, message } = made.error;
    return field ? form.failed({ [FIELDS[field] ?? field]: message }) : form.failed({}, message);
  }
  revalidatePath(p.at, "layout");
  return { ...form.succeeded("The key has been made."), token: made.value.token };
});

function holderIn(form: SentForm): KeyHolder {
  if (form.text("kind", 10) === "person") {
    const [person = "", membership = ""] = form.text("person", 100).split(" ");
    return { kind: "person", person, membership };
  }
  return { kind: "role", role: form.text("role", 64), company: form.text("company", 64) || null };
}

/** Boxes are called "t_1 see". */
function withinOf(ticked: readonly string[]): Within {
  const found: Record<string, KeyAction[]> = {};
  for (const box of ticked.slice(0, 2_000)) {
    const [table = "", action = ""] = box.split(" ");
    const known = KEY_ACTIONS.find((a) => a === action);
    if (known && /^t_\w{1,60}$/.test(table)) found[table] = [...(found[table] ?? []), known];
  }
  return found;
}

const GONE = { ok: false as const, messages: ["This key is gone, or has changed meanwhile. Load the page again."] };

export const endKey = officeAction("build", [word], (p, id): Undoable => {
  if (!setEnded(p.file, p.owner, id, true)) return GONE;
  revalidatePath(p.at, "layout");
  return { ok: true, undo: id };
});

export const bringKeyBack = officeAction("build", [word], (p, id): { ok: true } | { ok: false; messages: string[] } => {
  const stale = staleSignIn(p);
  if (stale) return { ok: false, messages: [stale] };
  if (!setEnded(p.file, p.owner, id, false)) return GONE;
  revalidatePath(p.at, "layout");
  return { ok: true };
});

/** Removes a key that has ended. */
export const removeKey = officeAction("build", [word], (p, id): { ok: true } | { ok: false; messages: string[] } => {
  if (!dropKey(p.file, p.owner, id)) return GONE;
  revalidatePath(p.at, "layout");
  return { ok: true };
});
