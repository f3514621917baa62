import { Door } from "@/features/office/ui/door";
import { ForgottenForm } from "@/features/office/ui/forgotten-form";
import { askForOfficeLink } from "@/features/office/ways";

export const metadata = { title: "A forgotten password" };

export default function Page() {
  return (
    <Door
      title="A forgotten password"
      lead="A link to choose a new one goes to the address that is known here."
      foot="An owner can take a lost second factor away, under Who works here."
    >
      <ForgottenForm action={askForOfficeLink} />
    </Door>
  );
}
