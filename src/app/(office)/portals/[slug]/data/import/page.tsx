import { Drop } from "@/features/data/ui/import/drop";
import { officePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";

export const metadata = { title: "Import" };

export default async function Page({ params }: { params: Promise<{ slug: string }> }) {
  const p = await officePortal((await params).slug, "build");
  return (
    <div className="grid gap-5">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <h1>Bring a table in</h1>
      <Drop at={p.at} />
    </div>
  );
}
