import type { ReactNode } from "react";
import { askForFonts } from "@/app/early-fonts";

export default function Layout({ children }: { children: ReactNode }) {
  askForFonts("bricolage", "instrument");
  return children;
}
