"use server";
/** What the owner does with one company's plan and money. Each act has its reason, which stands in the log; what is paid back is asked of the provider first. */
import { revalidatePath } from "next/cache";
import { config } from "@/config";
import { transact } from "@/data/file/transact";
import { word } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
import type { DraftAnswer } from "@/office/draft";
import { payAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";
import { act, companyAct, no, refund } from "./acts";

export const doForCompany = officeAction("bill", [word, companyAct], async (p, company, input): Promise<DraftAnswer> => {
  if (!p.desk.read(p.live.policy.schema.companies, String(company))) return no("This company is not here any more. Load the page again.");
  const a = input;
  const payments = () => {
    const [provider, account] = [providerOf(config()), payAccount(p.file)];
    return provider && account ? provider.payments(account) : null;
  };
  const done = a.act === "refund" ? await refund(p, company, a, payments) : transact(p.file, () => act(p, company, a));
  revalidatePath(p.at, "layout");
  return done;
});
