/**
 * A gateway that takes messages by HTTP: POST of {"to", "text"} as JSON with the key as `Idempotency-Key`
 * (draft-ietf-httpapi-idempotency-key-header). User and password of the address are sent as Basic (RFC 7617).
 */
import { err, ok } from "@/core/result";
import { isNumber, type SmsChannel } from "./contract";

/** Milliseconds. */
const PATIENCE = 10_000;

export function gatewaySms(address: string): SmsChannel {
  const url = new URL(address);
  const basic = url.username
    ? `Basic ${Buffer.from(`${decodeURIComponent(url.username)}:${decodeURIComponent(url.password)}`).toString("base64")}`
    : null;
  url.username = "";
  url.password = "";
  return {
    id: "gateway",
    async send(sms, key) {
      if (!isNumber(sms.to)) return err({ when: "never", message: `“${sms.to.slice(0, 40)}” is no telephone number.` });
      try {
        const answer = await fetch(url, {
          method: "POST",
          headers: { "content-type": "application/json", "idempotency-key": key, ...(basic ? { authorization: basic } : {}) },
          body: JSON.stringify({ to: sms.to, text: sms.text }),
          redirect: "error",
          signal: AbortSignal.timeout(PATIENCE),
        });
        await answer.body?.cancel();
        if (answer.ok) return ok({ id: key });
        // RFC 9110 section 15.5: the fault is ours, but for being too early or too often.
        const ours = answer.status >= 400 && answer.status < 500 && answer.status !== 408 && answer.status !== 429;
        return err({ when: ours ? "never" : "later", message: `The gateway answered ${answer.status}.` });
      } catch (e) {
        return err({
          when: "later",
          message:
            e instanceof Error && e.name === "TimeoutError" ? "The gateway did not answer in time." : "The gateway cannot be reached.",
        });
      }
    },
  };
}
