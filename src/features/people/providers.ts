"use server";
import { revalidatePath } from "next/cache";
import { addProvider, removeProvider } from "@/identity/providers/providers";
import { officePortalWrite } from "@/identity/requests/office-gate";
import { leadsInside } from "@/services/outside/guarded";
import { type FormState, failed, succeeded } from "@/ui/forms/form";

const text = (data: FormData, name: string, most: number): string => String(data.get(name) ?? "").slice(0, most);

export async function addProviderForm(slug: string, before: FormState, data: FormData): Promise<FormState> {
  const p = await officePortalWrite(slug, "build");
  const shared = {
    name: text(data, "name", 300),
    domains: text(data, "domains", 5_000)
      .toLowerCase()
      .split(/[\s,;]+/)
      .filter(Boolean),
  };
  const issuer = text(data, "issuer", 2_000).trim();
  if (data.get("kind") !== "saml" && URL.canParse(issuer) && (await leadsInside(issuer)))
    return failed(before, data, {
      issuer: "This address leads into Elkhorn's own network. Whoever runs Elkhorn can allow it (ELKHORN_INSIDE).",
    });
  const done = addProvider(
    p.file,
    p.owner,
    data.get("kind") === "saml"
      ? { ...shared, kind: "saml", metadata: text(data, "metadata", 400_000) }
      : {
          ...shared,
          kind: "oidc",
          issuer,
          client: text(data, "client", 500),
          secret: text(data, "secret", 2_000),
        },
  );
  if (!done.ok) return failed(before, data, { [done.error.field]: done.error.message });
  revalidatePath(p.at, "layout");
  return succeeded(before, "Registered. Its people are known from their next sign-in on, once that door is open.");
}

export async function dropProvider(slug: string, id: string): Promise<void> {
  const p = await officePortalWrite(slug, "build");
  removeProvider(p.file, p.owner, id);
  revalidatePath(p.at, "layout");
}
