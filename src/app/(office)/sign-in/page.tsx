import { redirect } from "next/navigation";
import { signInToOffice } from "@/features/office/actions";
import { Door } from "@/features/office/ui/door";
import { askOfficePasskey, comeByOfficePasskey } from "@/features/office/ways";
import { needsOwner } from "@/identity/office/setup";
import { requestOffice } from "@/identity/requests/request";
import { UsePasskey } from "@/ui/signing-in/passkeys";
import { SignInForm } from "@/ui/signing-in/sign-in-form";

export const metadata = { title: "Sign in" };

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  if (await requestOffice("overview")) redirect("/");
  if (needsOwner()) redirect("/-/setup");
  const { to } = await searchParams;
  return (
    <Door title="The back office" foot="Clients sign in at their own portal's address, not here.">
      <SignInForm action={signInToOffice} to={to ?? ""}>
        <UsePasskey ask={askOfficePasskey} come={comeByOfficePasskey} to={to ?? ""} />
      </SignInForm>
      <p className="mt-6 text-sm">
        <a className="link-plain" href="/-/forgotten">
          I have forgotten my password
        </a>
      </p>
    </Door>
  );
}
