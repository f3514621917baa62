import type { ReactNode } from "react";
import { askForFonts } from "@/app/early-fonts";
import { SoftLinks } from "@/ui/soft-links";

export default function Layout({ children }: { children: ReactNode }) {
  askForFonts("bricolage", "instrument");
  return (
    <>
      {children}
      <SoftLinks />
    </>
  );
}
