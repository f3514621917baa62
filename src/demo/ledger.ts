/** What the agency keeps in the Ledger Room, its records system: the same clients and people, enquiries that may become work, and calls for help. */
import { join } from "node:path";
import { addDays } from "@/core/time/relative";
import { dataFolder } from "@/data/file/open";
import { addKey, openLedger, putItem } from "@/ledger-room/store";
import { COMPANIES, PEOPLE } from "./cast";
import { Random } from "./random";

const TRADES: Readonly<Record<string, string>> = {
  saltmarsh: "Hospital",
  pell: "Ferries",
  wexcombe: "Garden",
  tarnmere: "College",
  brindle: "Markets",
};
const ENQUIRIES = [
  "Way-marking of a new wing",
  "Directory for the entrance",
  "Braille plates",
  "Car park letters",
  "Signs in three languages",
];
const STAGES = ["Asked", "Quoted", "Agreed", "Lost"];
const CALLS = ["A letter has fallen off", "The wrong arrow", "A lamp flickers", "Paint is fading", "A plate was scratched"];
const STATES = ["open", "waiting", "closed"];

/** Its key, which the portal's owner gives to Elkhorn. */
export function makeLedger(today: string, now: number): string {
  const db = openLedger(join(dataFolder(), "ledger.db"));
  const random = new Random(26);
  db.transaction(() => {
    COMPANIES.forEach((c, i) => {
      const city = c.address.split(", ").at(-1) ?? "";
      // 01632 960xxx is kept for drama by the United Kingdom's regulator.
      putItem(
        db,
        "companies",
        null,
        { name: c.name, trade: TRADES[c.key] ?? "", city, phone: `01632 9600${10 + i}`, standing: "Client" },
        now,
      );
      for (const person of PEOPLE.filter((p) => p.company === c.key)) {
        const email = `${person.name.split(" ")[0]!.toLowerCase()}@${c.domain}`;
        putItem(db, "contacts", null, { name: person.name, email, phone: "", company: c.name }, now);
      }
      for (let n = 0; n < 2; n++) {
        const closes = addDays(today, random.int(10, 120));
        const worth = String(random.int(8, 90) * 250);
        putItem(db, "deals", null, { title: random.pick(ENQUIRIES), company: c.name, worth, stage: random.pick(STAGES), closes }, now);
      }
      for (let n = 0; n < 3; n++) {
        const opened = addDays(today, -random.int(1, 90));
        putItem(db, "tickets", null, { subject: random.pick(CALLS), company: c.name, state: random.pick(STATES), opened }, now);
      }
    });
  })();
  const key = addKey(db, "Fernhill Wayfinding");
  db.close();
  return key;
}
