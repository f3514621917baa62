"use server";
/** What the owner does with one company's plan and money. Each act has its reason, which stands in the log; what is paid back is asked of the provider first. */
import { revalidatePath } from "next/cache";
import { config } from "@/config";
import { transact } from "@/data/file/transact";
import { officePortalWrite } from "@/identity/requests/office-gate";
import type { DraftAnswer } from "@/office/draft";
import { payAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";
import { act, type CompanyAct, companyAct, no, refund } from "./acts";

export async function doForCompany(slug: string, company: string, input: CompanyAct): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "bill");
  const parsed = companyAct.safeParse(input);
  if (!parsed.success) return { ok: false, messages: [...new Set(parsed.error.issues.map((i) => i.message))] };
  if (!p.desk.read(p.live.policy.schema.companies, String(company))) return no("This company is not here any more. Load the page again.");
  const a = parsed.data;
  const payments = () => {
    const [provider, account] = [providerOf(config()), payAccount(p.file)];
    return provider && account ? provider.payments(account) : null;
  };
  const done = a.act === "refund" ? await refund(p, company, a, payments) : transact(p.file, () => act(p, company, a));
  revalidatePath(p.at, "layout");
  return done;
}
