import { redirect } from "next/navigation";
import { Mark } from "@/features/office/ui/mark";
import { SetupForm } from "@/features/office/ui/setup-form";
import { needsOwner } from "@/identity/setup";

export const metadata = { title: "The first account" };
export const dynamic = "force-dynamic";

export default function Page() {
  if (!needsOwner()) redirect("/sign-in");
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 px-6 py-12">
      <div className="flex items-center gap-3">
        <Mark size={40} />
        <span className="title text-2xl font-semibold">Elkhorn</span>
      </div>
      <div className="sheet p-6">
        <h1 className="mb-2">The first account</h1>
        <p className="mb-5">It is the owner's: who has it makes the portals and decides who sees what.</p>
        <SetupForm />
      </div>
    </main>
  );
}
