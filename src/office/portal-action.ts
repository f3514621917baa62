/**
 * How everything that a portal's pages change comes in: from this portal's own pages, not while seeing as, and read before anything is
 * done. Who may do what with a record is decided by the desk that the request holds.
 */

import { sayIn } from "@/core/words/words";
import { RefusedWrite } from "@/identity/requests/refused-write";
import { type PortalRequest, requestPortalWrite } from "@/identity/requests/request";
import { type Given, readOrRefuse, readSent, type Sent, type Takes } from "@/identity/requests/takes";
import type { FormState } from "@/ui/forms/form";
import { SentForm } from "@/ui/forms/sent-form";

/** An action that answers `{ ok }`: what cannot be read is answered by a sentence. */
export function portalAction<const T extends Takes, R>(
  takes: readonly [...T],
  work: (r: PortalRequest, ...given: Given<T>) => R | Promise<R>,
): (...sent: Sent<T>) => Promise<R | { ok: false; message: string }> {
  return async (...sent) => {
    const r = await requestPortalWrite();
    const read = readSent<T>(takes as unknown as T, sent);
    return read.ok ? await work(r, ...read.value) : { ok: false, message: sayIn(r.published.definition.portal.locale)("form.not-allowed") };
  };
}

/** An action that answers a value or nothing: what cannot be read is refused as a request that none of our pages sends. */
export function portalCall<const T extends Takes, R>(
  takes: readonly [...T],
  work: (r: PortalRequest, ...given: Given<T>) => R | Promise<R>,
): (...sent: Sent<T>) => Promise<R> {
  return async (...sent) => {
    const r = await requestPortalWrite();
    return await work(r, ...readOrRefuse<T>(takes as unknown as T, sent));
  };
}

/** A form; `takes` is what stands before its fields. */
export function portalForm<const T extends Takes>(
  takes: readonly [...T],
  work: (r: PortalRequest, form: SentForm, ...given: Given<T>) => FormState | Promise<FormState>,
): (...sent: [...Sent<T>, before: FormState, data: FormData]) => Promise<FormState> {
  return async (...sent) => {
    const r = await requestPortalWrite();
    const data = sent[takes.length + 1];
    if (!(data instanceof FormData)) throw new RefusedWrite("No form was sent.");
    return await work(r, new SentForm(sent[takes.length] as FormState, data), ...readOrRefuse<T>(takes as unknown as T, sent));
  };
}
