/** Door: an identity elsewhere (OpenID Connect, SAML), from a provider that the agency has registered. */
import { err, ok } from "@/core/result";
import { type Claimed, type Provider, personOf } from "../providers/providers";
import type { Door } from "./contract";

export const outsideDoor: Door<{ readonly provider: Provider; readonly claimed: Claimed }> = {
  id: "outside",
  name: "Their organisation’s sign-in",
  about: "OpenID Connect or SAML, by providers that are registered here for the domains they speak for.",
  twofold: false,
  async prove(file, { provider, claimed }, _, now) {
    const personId = personOf(file, provider, claimed, now);
    return personId ? ok({ personId }) : err({ code: "wrong" });
  },
};
