import type { CSSProperties } from "react";
import { contrast, inkOn } from "@/core/brand/contrast";
import { brandTheme } from "@/core/brand/theme";
import { officePortal } from "@/identity/office-gate";
import { FramedTable } from "@/ui/framed-table";

export const metadata = { title: "Brand" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  const p = await officePortal((await params).slug, "build");
  const { brand, portal } = p.live.definition;
  const theme = brandTheme(brand);
  const pairs: [string, number][] = [
    ["Words on the colour", contrast(inkOn(brand.colour), brand.colour)],
    ["Links on the ground", contrast(theme["--color-primary"]!, theme["--color-base-200"]!)],
    ["Words on the ground", contrast(theme["--color-base-content"]!, theme["--color-base-200"]!)],
  ];
  return (
    <div className="grid max-w-3xl gap-5">
      <div>
        <h1>Brand</h1>
        <p className="quiet mt-1">What clients see is the agency's, not Elkhorn's. Text is kept readable on whatever colour is chosen.</p>
      </div>
      <div className="sheet overflow-hidden" style={theme as CSSProperties}>
        <div className="flex items-center gap-3 px-5 py-4" style={{ background: "var(--brand)", color: "var(--brand-ink)" }}>
          <span aria-hidden className="title grid size-9 place-items-center rounded-full border-2 border-current font-semibold">
            {brand.monogram}
          </span>
          <span className="title text-lg font-semibold">{portal.name}</span>
        </div>
        <div className="bg-base-200 px-5 py-5 text-base-content">
          <p>{brand.motto}</p>
          <p className="mt-1 text-primary underline">{brand.contact}</p>
        </div>
      </div>
      <FramedTable columns={[{ name: "Pair" }, { name: "Contrast", num: true }, { name: "WCAG 2.2 AA wants 4.5" }]}>
        {pairs.map(([words, ratio]) => (
          <tr key={words}>
            <td>{words}</td>
            <td className="num" data-label="Contrast">
              {ratio.toFixed(2)}
            </td>
            <td data-label="WCAG 2.2 AA wants 4.5">{ratio >= 4.5 ? "reached" : "missed"}</td>
          </tr>
        ))}
      </FramedTable>
    </div>
  );
}
