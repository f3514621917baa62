import { config } from "@/config";
import { officeAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { mailOf } from "@/services/mail";
import { ownersOf } from "@/staff/staff";

/** Where a portal's money goes is every owner's business: they are told by mail, whoever changed it. */
export async function tellOfAccount(p: OfficePortal, what: "was set up" | "was changed" | "was removed"): Promise<void> {
  const portal = p.live.definition.portal.name;
  for (const o of ownersOf()) {
    const text = `Hello ${o.name.split(" ")[0]},\n\nthe payment account of ${portal} ${what} by ${p.staff.name} (${p.staff.email}).\n\nIf this was not agreed, open ${officeAddress()}${p.at}/plans and set it right.\n`;
    const sent = await mailOf(config()).send(
      { to: o.email, subject: `${portal}: the payment account ${what}`, text },
      `account-${p.file.id}-${o.id}-${p.now}`,
    );
    if (!sent.ok) throw new Error(`An owner could not be told of a payment account: ${sent.error.message}`);
  }
}
