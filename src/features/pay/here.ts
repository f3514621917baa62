/** Who buys, for whom, and with what words: what every part of this room begins with. */
import { config } from "@/config";
import { maysPay } from "@/core/access/payer";
import { formatMoney } from "@/core/text/format";
import { type Say, sayIn } from "@/core/words/words";
import type { PortalFile } from "@/data/file/open";
import type { PortalRequest } from "@/identity/requests/request";
import { type PayAccount, payAccount } from "@/orders/account";
import { providerOf } from "@/services/payments";
import type { Payments, Provider } from "@/services/payments/contract";

/** The words of money in the portal's language. */
export const sayHere = (r: PortalRequest): Say => sayIn(r.published.definition.portal.locale);

export const moneyHere = (r: PortalRequest) => {
  const { currency, locale } = r.published.definition.portal;
  return (minor: number): string => formatMoney(minor, currency, locale);
};

/** Whether whoever looks may pay for the company that they act for. */
export const mayPay = (r: PortalRequest): boolean => maysPay(r.published.policy, r.viewer);

export interface Till {
  readonly provider: Provider;
  readonly account: PayAccount;
  readonly payments: Payments;
}

/** Where payments go; null where the installation has no provider, or the portal no account at it. */
export function tillOf(file: PortalFile): Till | null {
  const provider = providerOf(config());
  const account = provider && payAccount(file);
  return account ? { provider, account, payments: provider.payments({ secret: account.secret, mode: account.mode }) } : null;
}

/** As the run of what falls due asks for it. */
export interface Paying {
  readonly account: string;
  readonly payments: Payments;
}
/** Where the run of what falls due takes payments from; null where the portal takes none. */
export function payingOf(file: PortalFile): Paying | null {
  const till = tillOf(file);
  return till && { account: till.account.account, payments: till.payments };
}
