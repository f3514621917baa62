import type { Metadata } from "next";
import type { ReactNode } from "react";
import { officePortal } from "@/identity/requests/office-gate";

type Props = { children: ReactNode; params: Promise<{ slug: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const p = await officePortal((await params).slug, "overview");
  return { title: { default: p.live.definition.portal.name, template: `%s · ${p.live.definition.portal.name} · Elkhorn` } };
}

/** Pages are laid out over the whole screen, without the rail. Each of them asks for its own right. */
export default async function EditorLayout({ children, params }: Props) {
  await officePortal((await params).slug, "overview");
  return children;
}
