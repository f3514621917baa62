/** The made-up companies and people. Addresses end in .example (RFC 2606); telephone numbers are in ranges kept for fiction. */
export interface CastCompany {
  key: string;
  name: string;
  address: string;
  sites: string[];
  state: "trial" | "active" | "grace" | "lapsed";
  /** Days from today to the last day of that state. */
  until: number;
  /** By which price, how often it was paid, and how. */
  pays: { price: string; paid: number; collect: "card" | "outside"; card?: "paid" | "refused" };
  domain: string;
}

export const COMPANIES: CastCompany[] = [
  {
    key: "saltmarsh",
    name: "Saltmarsh Infirmary Group",
    address: "1 Causeway Road, Saltmarsh",
    sites: ["Main infirmary", "Outpatient pavilion", "Rehabilitation wing", "Staff college"],
    pays: { price: "priority-year", paid: 1, collect: "outside" },
    state: "active",
    until: 214,
    domain: "saltmarsh.example",
  },
  {
    key: "pell",
    name: "Pell & Quay Ferries",
    address: "Pier House, Pellhaven",
    sites: ["Pellhaven terminal", "Quay Street office", "North slipway", "Car deck hall", "Island landing"],
    pays: { price: "standard-month", paid: 12, collect: "card", card: "paid" },
    state: "active",
    until: 17,
    domain: "pellquay.example",
  },
  {
    key: "wexcombe",
    name: "Wexcombe Botanic Garden",
    address: "Glasshouse Lane, Wexcombe",
    sites: ["Glasshouses", "Walled garden"],
    pays: { price: "essential-month", paid: 9, collect: "card", card: "paid" },
    state: "active",
    until: 11,
    domain: "wexcombe.example",
  },
  {
    key: "tarnmere",
    name: "Tarnmere College",
    address: "College Hill, Tarnmere",
    sites: ["Upper campus", "Lakeside halls", "Boathouse"],
    pays: { price: "standard-month", paid: 6, collect: "card", card: "refused" },
    state: "grace",
    until: 5,
    domain: "tarnmere.example",
  },
  {
    key: "brindle",
    name: "Brindle Market Halls",
    address: "The Cross, Brindle",
    sites: ["Corn hall", "Butter hall", "Night market yard"],
    pays: { price: "standard-month", paid: 0, collect: "card", card: "paid" },
    state: "trial",
    until: 9,
    domain: "brindle.example",
  },
  {
    key: "northgale",
    name: "Northgale Airfield",
    address: "Perimeter Road, Northgale",
    sites: ["Terminal hut"],
    pays: { price: "essential-month", paid: 4, collect: "card", card: "refused" },
    state: "lapsed",
    until: -40,
    domain: "northgale.example",
  },
  {
    key: "kestrel",
    name: "Kestrel Leisure Pools",
    address: "Lido Parade, Kestrel Bay",
    sites: ["Lido", "Training pool"],
    pays: { price: "standard-month", paid: 1, collect: "card", card: "paid" },
    state: "active",
    until: 28,
    domain: "kestrel.example",
  },
];

export interface CastPerson {
  name: string;
  /** Company key, or null for the agency. */
  company: string | null;
  roles: string[];
  status?: "invited" | "active" | "inactive" | "awaiting approval";
  /** Not invited yet. */
  uninvited?: boolean;
  /** Indexes into the company's sites. */
  sites?: number[];
  also?: { company: string; roles: string[] };
}

/** The first of each company is its lead. Two are called Achterberg, in different companies. */
export const PEOPLE: CastPerson[] = [
  { name: "Ines Fairlough", company: null, roles: ["project-lead"] },
  { name: "Tobias Renn", company: null, roles: ["workshop"] },
  { name: "Marit Solway", company: null, roles: ["bookkeeper"] },
  { name: "Dana Achterberg", company: "saltmarsh", roles: ["lead"] },
  { name: "Piers Wold", company: "saltmarsh", roles: ["manager"], sites: [0, 2] },
  { name: "Noor Haddow", company: "saltmarsh", roles: ["approver"] },
  { name: "Celeste Umber", company: "saltmarsh", roles: ["accounts"] },
  { name: "Jonah Peake", company: "saltmarsh", roles: ["ward"] },
  { name: "Hester Lyle", company: "saltmarsh", roles: ["manager"], sites: [1] },
  { name: "Rafe Tolland", company: "pell", roles: ["lead"] },
  { name: "Sunniva Orr", company: "pell", roles: ["manager"], sites: [0, 3], also: { company: "brindle", roles: ["onlooker"] } },
  { name: "Bram Ellacott", company: "pell", roles: ["approver"] },
  { name: "Lotte Achterberg", company: "pell", roles: ["accounts"] },
  { name: "Aled Marrick", company: "pell", roles: ["onlooker"], status: "inactive" },
  { name: "Maud Verity", company: "wexcombe", roles: ["lead"] },
  { name: "Osric Dane", company: "wexcombe", roles: ["manager"], sites: [0] },
  { name: "Pia Lindqvale", company: "wexcombe", roles: ["onlooker"] },
  { name: "Gwen Harrop", company: "tarnmere", roles: ["lead"] },
  { name: "Idris Quill", company: "tarnmere", roles: ["manager"], sites: [1, 2] },
  { name: "Thea Mossop", company: "tarnmere", roles: ["approver"] },
  { name: "Caspar Nunn", company: "tarnmere", roles: ["accounts"] },
  { name: "Wren Abberley", company: "brindle", roles: ["lead"] },
  { name: "Silas Corrie", company: "brindle", roles: ["manager"], sites: [0] },
  { name: "Ottilie Pask", company: "brindle", roles: ["approver"], status: "awaiting approval" },
  { name: "Ivo Strand", company: "northgale", roles: ["lead"] },
  { name: "Nell Garrity", company: "northgale", roles: ["manager"], sites: [0] },
  { name: "Edda Birkin", company: "kestrel", roles: ["lead"], status: "invited" },
  { name: "Otis Vane", company: "kestrel", roles: ["manager"], sites: [0], status: "invited" },
  { name: "Faye Ormond", company: "kestrel", roles: ["onlooker"], status: "invited", uninvited: true },
  { name: "Alban Reeve", company: "", roles: [] },
];

/** The password of somebody in the demo. */
export const passwordOf = (name: string): string => `${name.split(" ")[0]!.toLowerCase()}-reads-every-sign`;
