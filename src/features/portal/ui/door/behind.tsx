/** A page, or in its place the way to say its passphrase. */
import type { ReactNode } from "react";
import type { Page } from "@/core/pages/page";
import { saidPassphrase } from "@/identity/requests/passphrase";
import type { PortalRequest } from "@/identity/requests/request";
import { sayOf } from "../../queries";
import { Narrow } from "./narrow";
import { PassphraseForm } from "./passphrase-form";

/** A page behind a passphrase: who has not said it here is asked for it first. */
export async function Behind({ r, page, children }: { r: PortalRequest; page: Page; children: ReactNode }) {
  if (await saidPassphrase(r, page)) return children;
  return (
    <Narrow title={page.name} lead={sayOf(r)("passphrase.lead")}>
      <PassphraseForm page={page.id} />
    </Narrow>
  );
}
