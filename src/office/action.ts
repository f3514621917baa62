/**
 * How everything that the back office changes comes in: who may, what is taken, and what is done, in this order. Every action of a
 * portal's rooms is made by one of these (`src/testing/actions.test.ts`), so none can forget to ask who sends it.
 */
import type { Right } from "@/core/access/who/office";
import type { Definition } from "@/core/definition/definition";
import { type OfficePortal, officePortalWrite } from "@/identity/requests/office-gate";
import { RefusedWrite } from "@/identity/requests/refused-write";
import { type OfficeRequest, requestOfficeWrite } from "@/identity/requests/request";
import { type Given, readOrRefuse, readSent, type Sent, type Takes, whole } from "@/identity/requests/takes";
import type { FormState } from "@/ui/forms/form";
import { SentForm } from "@/ui/forms/sent-form";
import { changeInDraft, type DraftAnswer } from "./draft";

/** The one shape in which what was sent is refused. */
export interface Unread {
  readonly ok: false;
  readonly messages: string[];
  /** All of them in one. */
  readonly message: string;
}

/** The answer to what could not be read, of one or more sentences. */
export const unread = (messages: string[]): Unread => ({ ok: false, messages, message: messages.join(" ") });

/** An action that answers `{ ok }`: what cannot be read is answered by sentences. */
export function officeAction<const T extends Takes, R>(
  right: Right,
  takes: readonly [...T],
  work: (p: OfficePortal, ...given: Given<T>) => R | Promise<R>,
): (slug: string, ...sent: Sent<T>) => Promise<R | Unread> {
  return async (slug, ...sent) => {
    const p = await officePortalWrite(slug, right);
    const read = readSent<T>(takes as unknown as T, sent);
    return read.ok ? await work(p, ...read.value) : unread(read.messages);
  };
}

/** An action that answers a value or nothing: what cannot be read is refused as a request that none of our pages sends. */
export function officeCall<const T extends Takes, R>(
  right: Right,
  takes: readonly [...T],
  work: (p: OfficePortal, ...given: Given<T>) => R | Promise<R>,
): (slug: string, ...sent: Sent<T>) => Promise<R> {
  return async (slug, ...sent) => {
    const p = await officePortalWrite(slug, right);
    return await work(p, ...readOrRefuse<T>(takes as unknown as T, sent));
  };
}

/** One change of the draft; `what` names it for undo and redo. */
export interface DraftChange {
  readonly what: string;
  readonly edit: (d: Definition) => Definition;
}

/**
 * An action that changes the draft, and only that. It takes the revision that its page saw, then `takes`; `work` says the change, or why
 * there is none. `unfit` looks at what the draft would become.
 */
export function draftAction<const T extends Takes>(
  right: Right,
  takes: readonly [...T],
  work: (p: OfficePortal, ...given: Given<T>) => DraftChange | Unread,
  unfit: (p: OfficePortal, edit: DraftChange["edit"]) => string[] = () => [],
): (slug: string, seen: number, ...sent: Sent<T>) => Promise<DraftAnswer> {
  return async (slug, seen, ...sent) => {
    const p = await officePortalWrite(slug, right);
    const read = readSent([whole, ...takes], [seen, ...sent]);
    if (!read.ok) return unread(read.messages);
    const [revision, ...given] = read.value as unknown as [number, ...Given<T>];
    const change = work(p, ...given);
    if ("messages" in change) return change;
    const wrong = unfit(p, change.edit);
    return wrong.length > 0 ? unread(wrong) : changeInDraft(p, revision, change.edit, change.what);
  };
}

/** A form; `takes` is what stands before its fields, as the id of the person that it changes. */
export function officeForm<const T extends Takes, S extends FormState = FormState>(
  right: Right,
  takes: readonly [...T],
  work: (p: OfficePortal, form: SentForm, ...given: Given<T>) => S | Promise<S>,
): (slug: string, ...sent: [...Sent<T>, before: FormState, data: FormData]) => Promise<S> {
  return async (slug, ...sent) => {
    const p = await officePortalWrite(slug, right);
    return await work(p, formOf(sent, takes.length), ...readOrRefuse<T>(takes as unknown as T, sent));
  };
}

/** A form of the back office itself, of no portal. */
export function staffForm<const T extends Takes, S extends FormState = FormState>(
  right: Right,
  takes: readonly [...T],
  work: (r: OfficeRequest, form: SentForm, ...given: Given<T>) => S | Promise<S>,
): (...sent: [...Sent<T>, before: S, data: FormData]) => Promise<S> {
  return async (...sent) => {
    const r = await requestOfficeWrite(right);
    return await work(r, formOf(sent, takes.length), ...readOrRefuse<T>(takes as unknown as T, sent));
  };
}

/** A call of the back office itself, of no portal. */
export function staffCall<const T extends Takes, R>(
  right: Right,
  takes: readonly [...T],
  work: (r: OfficeRequest, ...given: Given<T>) => R | Promise<R>,
): (...sent: Sent<T>) => Promise<R> {
  return async (...sent) => {
    const r = await requestOfficeWrite(right);
    return await work(r, ...readOrRefuse<T>(takes as unknown as T, sent));
  };
}

/** The two that React adds to what a form's action takes. */
function formOf(sent: readonly unknown[], at: number): SentForm {
  const data = sent[at + 1];
  if (!(data instanceof FormData)) throw new RefusedWrite("No form was sent.");
  return new SentForm(sent[at] as FormState, data);
}
