/** A QR code (ISO/IEC 18004) as one path: drawn on the page itself, nothing is fetched for it. */
import { create } from "qrcode";

/** A QR code (ISO/IEC 18004) as one path of an SVG, and how many modules it is wide. */
export function modulesOf(text: string): { path: string; size: number } {
  const { modules } = create(text, { errorCorrectionLevel: "M" });
  const { size } = modules;
  let path = "";
  for (let y = 0; y < size; y++) for (let x = 0; x < size; x++) if (modules.get(y, x)) path += `M${x} ${y}h1v1h-1z`;
  return { path, size };
}
