/** Drawings of details, a cut through wall and sign: lines alone, as on a drawing board. */
import sharp from "sharp";
import { Random } from "../random";
import type { Collection } from "./contents";

const INK = "#1d2733";

function wallOf(wall: Collection["wall"], r: Random): string {
  if (wall === "masonry") {
    const courses = Array.from({ length: 9 }, (_, i) => {
      const y = 60 + i * 66;
      const joint = i % 2 === 0 ? 300 : 240;
      return `<path d="M150 ${y}H360M${joint} ${y}V${y + 66}"/>`;
    });
    return `<path d="M150 60V660M360 60V660"/>${courses.join("")}`;
  }
  if (wall === "cladding") {
    const joints = [160, 350, 540].map((y) => `<path d="M330 ${y}H360M330 ${y + 12}H360"/>`);
    const wool = Array.from({ length: 14 }, (_, i) => `<path d="M210 ${70 + i * 43}q30 20 60 0t60 0" stroke-width="1.6"/>`);
    return `<path d="M150 60V660M200 60V660M330 60V660M360 60V660"/>${joints.join("")}${wool.join("")}`;
  }
  const stones = Array.from(
    { length: 40 },
    () => `<circle cx="${r.int(130, 830)}" cy="${r.int(560, 660)}" r="${r.int(3, 9)}" stroke-width="1.4"/>`,
  );
  return `<path d="M110 540H850"/>${stones.join("")}`;
}

export function detailDrawing(wall: Collection["wall"], n: number): Promise<Buffer> {
  const r = new Random(n * 131 + wall.length * 7);
  const arms = 2 + (n % 3);
  const out = r.int(90, 260);
  const ground = wall === "ground";
  const plate = ground
    ? `<rect x="${360 - (n % 2) * 60}" y="130" width="${220 + (n % 2) * 120}" height="230"/><path d="M470 360V${600 + (n % 2) * 40}M490 360V${600 + (n % 2) * 40}"/><rect x="400" y="545" width="160" height="${70 + (n % 3) * 20}" stroke-dasharray="10 7"/>`
    : `<rect x="${360 + out}" y="150" width="34" height="420"/>` +
      Array.from({ length: arms }, (_, i) => {
        const y = 190 + (i * 340) / Math.max(1, arms - 1);
        return `<path d="M${250 - r.int(0, 40)} ${y}H${360 + out}M${250} ${y - 10}H360M250 ${y + 10}H360"/><circle cx="${360 + out + 17}" cy="${y}" r="12"/>`;
      }).join("");
  const measure = ground
    ? `<path d="M640 130V540M625 130H655M625 540H655" stroke-width="1.6"/>`
    : `<path d="M360 690H${360 + out}M360 678V702M${360 + out} 678V702" stroke-width="1.6"/>`;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="960" height="720"><rect width="960" height="720" fill="#f4f1e8"/>
    <g stroke="#d8d2c0" stroke-width="1">${Array.from({ length: 23 }, (_, i) => `<path d="M${i * 42} 0V720"/>`).join("")}${Array.from({ length: 18 }, (_, i) => `<path d="M0 ${i * 42}H960"/>`).join("")}</g>
    <g fill="none" stroke="${INK}" stroke-width="3" stroke-linejoin="round">${wallOf(wall, r)}${plate}${measure}</g></svg>`;
  return sharp(Buffer.from(svg)).png({ palette: true }).toBuffer();
}

/** A plumb bob, as a drawn format: Elkhorn turns it into pixels. */
export const LOGO = `<svg xmlns="http://www.w3.org/2000/svg" width="160" height="160" viewBox="0 0 160 160"><path d="M80 6v58" stroke="#e3b04b" stroke-width="6"/><path d="M52 64h56l-8 46-20 40-20-40z" fill="#e3b04b"/><path d="M52 64h56l-3 16H55z" fill="#fff3d6"/></svg>`;
