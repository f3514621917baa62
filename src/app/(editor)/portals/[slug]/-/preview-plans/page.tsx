import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { BuyPage } from "@/features/pay/ui/buy-page";
import { previewOf } from "@/features/plans/preview";
import { PreviewBar } from "@/features/plans/ui/preview-bar";
import { Frame } from "@/features/portal/ui/frame/frame";
import { Plans } from "@/features/portal/ui/plans";
import { officePortal } from "@/identity/requests/office-gate";

type Query = Record<string, string | string[] | undefined>;
type Props = { params: Promise<{ slug: string }>; searchParams: Promise<Query> };

export const metadata: Metadata = { title: "Plans as they are found" };

/** The draft's plans, or the summary before paying, as somebody would find them: nothing in it can be sent. */
export default async function Page({ params, searchParams }: Props) {
  const p = await officePortal((await params).slug, "bill");
  const query = await searchParams;
  const { r, as, choices } = previewOf(p, query) ?? notFound();
  return (
    <>
      <PreviewBar at={p.at} as={as} query={query} choices={choices} />
      <div inert>
        <Frame r={r} laidOut>
          {query.price || query.offer ? <BuyPage r={r} query={query} plans={<Plans r={r} />} lookedAt /> : <Plans r={r} />}
        </Frame>
      </div>
    </>
  );
}
