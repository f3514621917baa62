/** Fonts that a page is drawn in, asked for before its styles are read. */
import { preload } from "react-dom";
import { type Font, fontsAt } from "@/server/fonts";

/** Has the browser ask for these fonts at once; called while a page is drawn. */
export function askForFonts(...fonts: Font[]): void {
  for (const at of fontsAt(fonts)) preload(at, { as: "font", type: "font/woff2", crossOrigin: "anonymous" });
}
