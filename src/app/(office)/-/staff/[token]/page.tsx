import { acceptStaffForm } from "@/features/office/staff";
import { Door } from "@/features/office/ui/door";
import { FirstPassword } from "@/features/office/ui/own-password";
import { staffInvited } from "@/staff/staff";

export const metadata = { title: "Into the back office", referrer: "no-referrer" };

/** Looking uses nothing up: mail scanners look too. */
export default async function Page({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const who = staffInvited(token, Date.now());
  if (!who)
    return (
      <Door
        title="This link does not open the door"
        lead="It has been used, replaced or taken back, or it is older than a week. Ask for a fresh one."
      />
    );
  return (
    <Door title={`Welcome, ${who.name}`} lead={`Choose a password; you sign in with ${who.email}.`}>
      <FirstPassword action={acceptStaffForm} token={token} />
    </Door>
  );
}
