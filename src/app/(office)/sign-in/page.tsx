import { redirect } from "next/navigation";
import { signInToOffice } from "@/features/office/actions";
import { Mark } from "@/features/office/ui/mark";
import { requestOffice } from "@/identity/request";
import { needsOwner } from "@/identity/setup";
import { SignInForm } from "@/ui/sign-in-form";

export const metadata = { title: "Sign in" };

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  if (await requestOffice()) redirect("/");
  if (needsOwner()) redirect("/-/setup");
  const { to } = await searchParams;
  return (
    <main className="mx-auto grid min-h-dvh max-w-sm content-center gap-6 px-6 py-12">
      <div className="flex items-center gap-3">
        <Mark size={40} />
        <span className="title text-2xl font-semibold">Elkhorn</span>
      </div>
      <div className="sheet p-6">
        <h1 className="mb-5">The back office</h1>
        <SignInForm action={signInToOffice} to={to ?? ""} />
      </div>
      <p className="quiet text-sm">Clients sign in at their own portal's address, not here.</p>
    </main>
  );
}
