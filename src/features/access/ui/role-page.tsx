import { notFound } from "next/navigation";
import { companyList } from "@/data/people/directory";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { accessView } from "../queries";
import { RoleForm } from "./role-form";

/** The form of one role, or of a new one: its name, its side, and the roles that are part of it. */
export function RolePage({ p, id }: { p: OfficePortal; id: string }) {
  const v = accessView(p);
  const role = v.definition.roles.find((r) => r.id === id);
  if (!role && id !== "new") notFound();
  const back = `${p.at}/access#roles`;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <Link className="link-plain text-sm" href={back}>
        Access
      </Link>
      <h1>{role ? role.name : "A new role"}</h1>
      <RoleForm
        portal={p.slug}
        back={back}
        role={{
          id: role?.id ?? null,
          revision: v.revision,
          name: role?.name ?? "",
          side: role?.side ?? "client",
          includes: [...(role?.includes ?? [])],
          companyId: role?.companyId ?? null,
          about: role?.about ?? "",
        }}
        others={v.definition.roles.filter((r) => r.id !== id).map(({ id, name, side }) => ({ id, name, side }))}
        companies={companyList(p.file, p.owner)}
      />
    </div>
  );
}
