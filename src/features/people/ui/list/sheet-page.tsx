import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { modulesOf } from "@/ui/signing-in/qr";
import { linksOf } from "../../links-file";
import { PrintButton } from "./print-button";

/** Invitations of one act to be printed and cut: each with its link, to be typed or read by a telephone's camera. */
export function SheetPage({ p, batch }: { p: OfficePortal; batch: string }) {
  const links = linksOf(p, batch, "links-looked-at");
  const { name } = p.live.definition.portal;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <div className="grid gap-3 print:hidden">
        <Link className="link-plain text-sm" href={`${p.at}/people/outbox?batch=${encodeURIComponent(batch)}`}>
          These messages
        </Link>
        <h1>Invitations to hand over</h1>
        <p className="quiet max-w-prose">Whoever has a link comes in by it once. Cut the sheet, and give each to its person alone.</p>
        {links.length > 0 && <PrintButton />}
      </div>
      {links.length === 0 ? (
        <div className="sheet">
          <Empty title="No invitation here">These messages carry no links of invitations.</Empty>
        </div>
      ) : (
        <ul className="grid gap-3 sm:grid-cols-2 print:grid-cols-2">
          {links.map((l) => (
            <li key={`${l.email} ${l.link}`} className="flex break-inside-avoid gap-4 rounded-lg border border-base-300 bg-base-100 p-4">
              <div className="grid min-w-0 grow content-start gap-1">
                <strong className="font-medium">{l.name}</strong>
                <span className="text-sm">{name}</span>
                <span className="text-sm break-all">{portalAddress(p.slug)}</span>
                {l.link ? (
                  <span className="font-mono text-xs break-all">{l.link}</span>
                ) : (
                  <span className="text-sm text-accent">This link is used, replaced or over.</span>
                )}
              </div>
              {l.link && <Code text={l.link} />}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function Code({ text }: { text: string }) {
  const { path, size } = modulesOf(text);
  return (
    <svg viewBox={`-2 -2 ${size + 4} ${size + 4}`} className="size-28 shrink-0 bg-white" role="img" aria-label="The link as a code">
      <path d={path} fill="black" />
    </svg>
  );
}
