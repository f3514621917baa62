import { redirect } from "next/navigation";
import { Door } from "@/features/office/ui/door";
import { SetupForm } from "@/features/office/ui/setup-form";
import { needsOwner } from "@/identity/office/setup";

export const metadata = { title: "The first account" };
export const dynamic = "force-dynamic";

export default function Page() {
  if (!needsOwner()) redirect("/sign-in");
  return (
    <Door title="The first account" lead="It is the owner's: who has it makes the portals and decides who sees what.">
      <SetupForm />
    </Door>
  );
}
