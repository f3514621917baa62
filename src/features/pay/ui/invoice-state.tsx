/** Whether an invoice is paid; an open one with the way to pay it, for whoever may. */
import type { SeenRecord } from "@/core/schema/seen";
import type { PortalRequest } from "@/identity/requests/request";
import { Link } from "@/ui/link";
import { mayPay, sayHere, tillOf } from "../here";
import { buyHref } from "../wanted";

export function InvoiceState({ r, invoice }: { r: PortalRequest; invoice: SeenRecord }) {
  const say = sayHere(r);
  const field = r.published.policy.schema.field("f_invoice_state");
  const state = String(invoice.fields.f_invoice_state ?? "");
  const name = field.options.choices?.find((c) => c.id === state)?.name ?? state;
  const number = String(invoice.fields.f_invoice_number ?? "");
  if (state !== "open" || !mayPay(r) || !tillOf(r.file))
    return <span className={state === "open" ? "font-medium text-accent" : ""}>{name}</span>;
  return (
    <Link
      className="btn btn-primary btn-xs"
      href={buyHref(r.base, { kind: "invoice", invoice: invoice.id }, { to: "/-/billing" })}
      aria-label={say("billing.pay-one", { number })}
    >
      {say("billing.pay")}
    </Link>
  );
}
