"use server";
import { revalidatePath } from "next/cache";
import { addProvider, removeProvider } from "@/identity/providers/providers";
import { word } from "@/identity/requests/takes";
import { officeCall, officeForm } from "@/office/action";
import { leadsInside } from "@/services/outside/guarded";

export const addProviderForm = officeForm("build", [], async (p, form) => {
  const shared = {
    name: form.text("name", 300),
    domains: form
      .text("domains", 5_000)
      .toLowerCase()
      .split(/[\s,;]+/)
      .filter(Boolean),
  };
  const issuer = form.text("issuer", 2_000).trim();
  if (form.data.get("kind") !== "saml" && URL.canParse(issuer) && (await leadsInside(issuer)))
    return form.failed({
      issuer: "This address leads into Elkhorn's own network. Whoever runs Elkhorn can allow it (ELKHORN_INSIDE).",
    });
  const done = addProvider(
    p.file,
    p.owner,
    form.data.get("kind") === "saml"
      ? { ...shared, kind: "saml", metadata: form.text("metadata", 400_000) }
      : {
          ...shared,
          kind: "oidc",
          issuer,
          client: form.text("client", 500),
          secret: form.text("secret", 2_000),
        },
  );
  if (!done.ok) return form.failed({ [done.error.field]: done.error.message });
  revalidatePath(p.at, "layout");
  return form.succeeded("Registered. Its people are known from their next sign-in on, once that door is open.");
});

export const dropProvider = officeCall("build", [word], async (p, id): Promise<void> => {
  removeProvider(p.file, p.owner, id);
  revalidatePath(p.at, "layout");
});
