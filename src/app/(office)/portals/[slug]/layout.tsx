import type { Metadata } from "next";
import { type ReactNode, Suspense } from "react";
import { BrokenCount } from "@/features/access/ui/broken-count";
import { seeAs } from "@/features/checks/actions";
import { Frame } from "@/features/office/ui/frame";
import { officePortal } from "@/identity/requests/office-gate";

type Props = { children: ReactNode; params: Promise<{ slug: string }> };

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const p = await officePortal((await params).slug, "overview");
  return { title: { default: p.live.definition.portal.name, template: `%s · ${p.live.definition.portal.name} · Elkhorn` } };
}

export default async function OfficeLayout({ children, params }: Props) {
  const p = await officePortal((await params).slug, "overview");
  const checked = (
    <Suspense>
      <BrokenCount p={p} />
    </Suspense>
  );
  return (
    <Frame p={p} checked={checked} seeAs={seeAs}>
      {children}
    </Frame>
  );
}
