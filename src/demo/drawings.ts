/** What Fernhill's files hold: signs on their walls as pictures, and drawings of them as PDF. No letters in the pictures: a machine may have no fonts. */
import sharp from "sharp";
import { Random } from "./random";

const WALLS = ["#d9d2c4", "#c7d0d1", "#b9a894", "#e4e1da", "#a9b3a6"];
const FACES: Record<string, [face: string, letters: string]> = {
  Aluminium: ["#9aa3a8", "#1d2b33"],
  Oak: ["#b98b56", "#2f1d0e"],
  "Vitreous enamel": ["#1f4e5f", "#f4efe4"],
  "Recycled acrylic": ["#d9694a", "#fff7ec"],
  Slate: ["#3d434a", "#e9e4d8"],
};
/** Left, top, width and height of each kind of sign, in the 960 by 720 of its picture. */
const BOXES: Record<string, [number, number, number, number]> = {
  Totem: [350, 90, 260, 560],
  Hanging: [190, 170, 580, 170],
  "Wall plate": [230, 200, 500, 300],
  "Door plate": [560, 260, 240, 150],
  "Floor line": [90, 590, 780, 60],
  Directory: [260, 80, 440, 540],
};
export const SIGN_TYPES = Object.keys(BOXES);
export const SIGN_MATERIALS = Object.keys(FACES);

export function signPicture(type: string, material: string): Promise<Buffer> {
  const r = new Random(type.length * 97 + material.length * 13);
  const [x, y, w, h] = BOXES[type]!;
  const [face, ink] = FACES[material]!;
  const rows = Math.max(1, Math.min(7, Math.floor(h / 75)));
  const step = h / (rows + 0.4);
  const lines = Array.from({ length: rows }, (_, i) => {
    const top = y + step * (i + 0.35);
    const tall = Math.min(34, step * 0.5);
    const turn = r.pick([0, 0, 90, -90, 180]);
    const middle = `${x + 28 + tall / 2} ${top + tall / 2}`;
    const arrow = `<path d="M0 ${-tall / 2}L${tall / 2} ${tall / 8}H${tall / 6}V${tall / 2}H${-tall / 6}V${tall / 8}H${-tall / 2}Z" fill="${ink}" transform="translate(${middle}) rotate(${turn})"/>`;
    // Words as bars of the lengths that words have.
    let at = x + 48 + tall;
    const words: string[] = [];
    while (at < x + w - 40 && words.length < r.int(1, 3)) {
      const long = Math.min(r.int(40, 120), x + w - 24 - at);
      words.push(`<rect x="${at}" y="${top + tall * 0.15}" width="${long}" height="${tall * 0.7}" rx="3" fill="${ink}"/>`);
      at += long + 14;
    }
    return arrow + words.join("");
  });
  const door =
    type === "Door plate"
      ? `<rect x="130" y="110" width="360" height="520" fill="#7b6a58"/><circle cx="455" cy="390" r="14" fill="#d8cfc0"/>`
      : "";
  const rods = type === "Hanging" ? `<path d="M270 0V${y}M690 0V${y}" stroke="#5b5f61" stroke-width="10"/>` : "";
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="960" height="720">
    <defs><linearGradient id="light" x1="0" y1="0" x2="1" y2="1"><stop stop-color="#fff" stop-opacity=".35"/><stop offset="1" stop-color="#000" stop-opacity=".25"/></linearGradient></defs>
    <rect width="960" height="720" fill="${r.pick(WALLS)}"/><rect y="630" width="960" height="90" fill="#8a857c"/>${door}${rods}
    <rect x="${x + 10}" y="${y + 14}" width="${w}" height="${h}" rx="8" fill="#000" opacity=".22"/>
    <rect x="${x}" y="${y}" width="${w}" height="${h}" rx="8" fill="${face}"/>${lines.join("")}
    <rect width="960" height="720" fill="url(#light)"/></svg>`;
  return sharp(Buffer.from(svg)).jpeg({ quality: 82 }).toBuffer();
}

/** One page, A4 across: a frame, the sign to scale in it, and a line of words (PDF 1.4; ISO 32000-1 section 7.5). */
export function drawing(title: string, type: string): Buffer {
  const [x, y, w, h] = BOXES[type]!;
  const words = title.replace(/[^\x20-\x7e]/g, "").replace(/[\\()]/g, "");
  const page = `0.6 w 30 30 782 535 re S 1.4 w ${x * 0.7 + 80} ${(720 - y - h) * 0.6 + 90} ${w * 0.7} ${h * 0.6} re S
0.4 w [4 3] 0 d 60 90 m 780 90 l S [] 0 d BT /F 15 Tf 48 48 Td (${words}) Tj ET`;
  const objects = [
    "<< /Type /Catalog /Pages 2 0 R >>",
    "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
    "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 842 595] /Contents 4 0 R /Resources << /Font << /F 5 0 R >> >> >>",
    `<< /Length ${page.length} >>\nstream\n${page}\nendstream`,
    "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>",
  ];
  let out = "%PDF-1.4\n";
  const at = objects.map((o, i) => {
    const from = out.length;
    out += `${i + 1} 0 obj\n${o}\nendobj\n`;
    return from;
  });
  const table = at.map((n) => `${String(n).padStart(10, "0")} 00000 n \n`).join("");
  out += `xref\n0 6\n0000000000 65535 f \n${table}trailer\n<< /Size 6 /Root 1 0 R >>\nstartxref\n${out.length}\n%%EOF\n`;
  return Buffer.from(out, "latin1");
}
