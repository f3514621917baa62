import "@fontsource-variable/bricolage-grotesque";
import "@fontsource-variable/figtree";
import "@fontsource-variable/instrument-sans";
import "@fontsource-variable/literata";
import "./globals.css";
import type { Metadata } from "next";
import { connection } from "next/server";
import type { ReactNode } from "react";

/** Drawn here, so that a portal's host needs no file of the back office. */
const MARK = `data:image/svg+xml,${encodeURIComponent('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><rect width="32" height="32" rx="7" fill="#235140"/><path d="M9 6v9a7 7 0 0 0 14 0V6M9 11H5M23 11h4M16 22v5" fill="none" stroke="#f6f2e9" stroke-width="2.6" stroke-linecap="round"/></svg>')}`;

export const metadata: Metadata = { title: { default: "Elkhorn", template: "%s · Elkhorn" }, icons: { icon: MARK } };

export default async function RootLayout({ children }: { children: ReactNode }) {
  // No page is made ahead, the one for a wrong address neither: each answer's scripts carry its own nonce.
  await connection();
  return (
    <html lang="en-GB">
      <body>{children}</body>
    </html>
  );
}
