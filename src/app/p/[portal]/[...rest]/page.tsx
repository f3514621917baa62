import { notFound } from "next/navigation";

/** Addresses that no page has: so that they are told so in the portal's own frame. */
export default function Page(): never {
  notFound();
}
