/** What the library holds, and who comes to it. Everything is invented; loads and depths are no advice to anybody. */
export interface Collection {
  readonly name: string;
  readonly about: string;
  readonly wall: "masonry" | "cladding" | "ground";
  readonly details: readonly string[];
}

export const COLLECTIONS: readonly Collection[] = [
  {
    name: "Masonry and stone",
    about: "Brick, rubble and dressed stone, sound or soft, with and without render.",
    wall: "masonry",
    details: [
      "Plate on sound brick",
      "Plate on rendered brick",
      "Hanging arm in a bed joint",
      "Letters on dressed stone",
      "Fascia across a lintel",
      "Totem foot against a plinth",
      "Plate on soft sandstone",
      "Lamp bracket over an arch",
    ],
  },
  {
    name: "Glass and cladding",
    about: "Curtain walls, rainscreens and sheet, where nothing may be drilled that keeps the weather out.",
    wall: "cladding",
    details: [
      "Letters on a glass parapet",
      "Clamp on a mullion",
      "Rail behind open joints",
      "Plate on folded sheet",
      "Hanging sign from a soffit",
      "Film edge at a door leaf",
      "Fascia on insulated panel",
      "Arm through a rainscreen",
    ],
  },
  {
    name: "Poles and ground",
    about: "Posts, totems and floor lines, on soil, paving and slab.",
    wall: "ground",
    details: [
      "Post in firm soil",
      "Post on a slab",
      "Totem on screw piles",
      "Two posts and a rail",
      "Clamp on a lamp column",
      "Floor line on paving",
      "Sleeve for a post that lifts out",
      "Totem over a drain",
    ],
  },
];

export const FIXINGS = ["Anchor", "Clamp", "Rail", "Post"] as const;
export const HOW =
  "Mark out from the centre line, then from the drawing. Drill dry, blow out twice, and try one fixing before the rest. " +
  "What the wall gives is measured, not guessed: pull one to half the load again and leave it for five minutes.";

export interface Firm {
  readonly key: string;
  readonly name: string;
  readonly town: string;
  readonly domain: string;
  /** Null of who has not chosen one yet. */
  readonly plan: "bench" | "crew" | null;
  readonly state: "trial" | "active";
  /** Days from today. */
  readonly until: number;
  readonly people: readonly { readonly name: string; readonly role: "firm-lead" | "fitter" }[];
}

export const FIRMS: readonly Firm[] = [
  {
    key: "ridge",
    name: "Ridge & Hook Fitters",
    town: "Brindle",
    domain: "ridgehook.example",
    plan: "crew",
    state: "active",
    until: 121,
    people: [
      { name: "Abel Thorne", role: "firm-lead" },
      { name: "Junia Pell", role: "fitter" },
      { name: "Marlow Eade", role: "fitter" },
      { name: "Vesna Hull", role: "fitter" },
    ],
  },
  {
    key: "plumbline",
    name: "Plumbline Fascias",
    town: "Wexcombe",
    domain: "plumbline.example",
    plan: "crew",
    state: "trial",
    until: 6,
    people: [
      { name: "Greta Loam", role: "firm-lead" },
      { name: "Tam Orchard", role: "fitter" },
    ],
  },
  {
    key: "ladders",
    name: "Two Ladders",
    town: "Pellhaven",
    domain: "twoladders.example",
    plan: null,
    state: "active",
    until: 0,
    people: [{ name: "Ebbe Carrow", role: "firm-lead" }],
  },
  ...(["Linus Quarrel", "Orla Fenn", "Basil Tresk", "Juno Haverley", "Cato Bream"] as const).map(
    (name, i): Firm => ({
      key: `single-${i}`,
      name,
      town: ["Saltmarsh", "Tarnmere", "Brindle", "Wexcombe", "Kestrel Bay"][i]!,
      domain: "fitters.example",
      plan: i < 3 ? "bench" : null,
      state: i === 2 ? "trial" : "active",
      until: [200, 34, 11, 0, 0][i]!,
      people: [{ name, role: "firm-lead" }],
    }),
  ),
];
