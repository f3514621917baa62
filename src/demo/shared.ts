/** What is no company's own: standards for everybody, and the agency's price book. */
import { Random } from "./random";
import type { adder, DemoContext } from "./records";

const RULES: [string, string, string][] = [
  ["Totem", "Sign type", "Stands at a place of decision; lists at most five destinations."],
  ["Hanging sign", "Sign type", "Hangs across the way, lower edge at least 2.4 m above the floor."],
  ["Door plate", "Sign type", "Beside the door on the handle side, 1.5 m to its centre."],
  ["Letter height", "Legibility", "One centimetre of letter for each three metres of reading distance."],
  ["Contrast of letters", "Legibility", "Light on dark or dark on light; never colour against colour alone."],
  ["Words before symbols", "Legibility", "A symbol stands beside a word unless everybody knows it."],
  ["Arrow order", "Placing", "Straight on first, then left, then right."],
  ["One message a line", "Legibility", "A line that wraps is two messages: shorten it."],
  ["Reassurance", "Placing", "A destination once named is named again until it is reached."],
  ["Cleaning", "Upkeep", "Water and a soft cloth; no solvent on enamel or acrylic."],
];

export function makeShared(c: DemoContext, add: ReturnType<typeof adder>): void {
  for (let i = 0; i < 25; i++) {
    const [title, kind, rule] = RULES[i % RULES.length]!;
    add(c.t.standards, {
      title: i < RULES.length ? title : `${title}, ${["outdoors", "indoors", "at night"][Math.floor(i / RULES.length)]!}`,
      kind,
      rule,
    });
  }
  const r = new Random(55);
  const items = [
    "Survey",
    "Drawing",
    "Vinyl cutting",
    "Oak blank",
    "Aluminium tray",
    "Enamel firing",
    "Fitting by two",
    "Lift hire",
    "Travel",
    "Paint",
  ];
  for (let i = 0; i < 40; i++)
    add(c.t.prices, {
      item: `${items[i % items.length]}${i >= items.length ? `, class ${Math.floor(i / items.length) + 1}` : ""}`,
      unit: r.pick(["each", "hour", "metre"]),
      rate: r.int(8, 260) * 100,
    });
}
