import { giveOfficeSecond, signOutOfOffice } from "@/features/office/actions";
import { Door } from "@/features/office/ui/door";
import { SecondForm } from "@/ui/signing-in/second-forms";

export const metadata = { title: "The second step" };

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  const { to } = await searchParams;
  return (
    <Door title="The second step" lead="Write the code that your authenticator shows now, or one of your recovery codes.">
      <SecondForm action={giveOfficeSecond} to={to ?? "/"} />
      <form action={signOutOfOffice} className="mt-6">
        <button type="submit" className="link-plain cursor-pointer text-sm">
          Sign out
        </button>
      </form>
    </Door>
  );
}
