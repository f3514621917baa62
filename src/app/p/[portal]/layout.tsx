import type { Metadata } from "next";
import { notFound } from "next/navigation";
import type { ReactNode } from "react";
import { askForFonts } from "@/app/early-fonts";
import { tabMark } from "@/core/brand/mark";
import { Frame } from "@/features/portal/ui/frame/frame";
import { requestPortal } from "@/identity/requests/request";

type Props = { children: ReactNode; params: Promise<{ portal: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const definition = (await requestPortal((await params).portal))?.published.definition;
  const name = definition?.portal.name ?? "Not found";
  return {
    title: { absolute: name, template: `%s · ${name}` },
    description: definition?.brand.motto || name,
    ...(definition ? { icons: { icon: tabMark(definition.brand) } } : {}),
  };
}

export default async function PortalLayout({ children, params }: Props) {
  const r = await requestPortal((await params).portal);
  if (!r) notFound();
  const { titles, text } = r.published.definition.brand;
  askForFonts(titles, text);
  return <Frame r={r}>{children}</Frame>;
}
