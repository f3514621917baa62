"use client";
import { useRouter } from "next/navigation";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { addCompanyRelation } from "../actions";

/** Where nothing leads from a table to people or companies, says so and offers the relation that is missing. */
export function MissingRelation({ portal, table }: { portal: string; table: { id: string; name: string } }) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const add = () =>
    start(async () => {
      const answer = await answered(addCompanyRelation(portal, table.id));
      if (!answer) return;
      if (!answer.ok) return void toast.error(answer.messages.join(" "));
      toast(`${table.name} has a relation to Companies now. It is empty until you fill it under Data.`);
      router.refresh();
    });
  return (
    <div className="flex flex-wrap items-center gap-3 border-l-3 border-accent py-1 pl-3">
      <p className="min-w-0 flex-1 basis-72">
        No relation leads from {table.name} to people or companies, so its records cannot be anybody's.
      </p>
      <button type="button" className="btn btn-sm" onClick={add} disabled={busy}>
        Add a relation to Companies
      </button>
    </div>
  );
}
