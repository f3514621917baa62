import { notFound } from "next/navigation";

/** Addresses that no page has: so that the portal's rail stands beside what is said. */
export default function Page(): never {
  notFound();
}
