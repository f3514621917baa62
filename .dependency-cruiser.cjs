/** Arrows of the house: app -> features -> data, identity, ui -> core. Transitive reach is checked too. */
const only = (name, from, to, comment) => ({ name, severity: "error", comment, from, to });

/**
 * Folders of a layer, the lowest first: each may import those before it. `.` is the layer's own files. docs/architecture.md says what each
 * holds; a new folder gets its place here, or the check fails.
 */
const ORDER = {
  core: ". time words address text money schema joining access filter forms sections pages prices definition billing brand charts editing events exchange messages review",
  data: "file events jobs . tables definition log files billing records messages people schema making parting publishing imports installation brand views",
  identity: "secrets limits passwords factors providers doors sessions entering viewers keys office requests",
};
const inOrder = Object.entries(ORDER).flatMap(([layer, folders]) => {
  const names = folders.split(" ");
  const at = (name) => (name === "." ? `^src/${layer}/[^/]+$` : `^src/${layer}/${name}/`);
  return [
    ...names
      .slice(0, -1)
      .map((name, i) =>
        only(
          `${layer}-in-order`,
          { path: at(name), pathNot: "[.]test[.]ts$" },
          { path: names.slice(i + 1).map(at) },
          `${layer}/${name} lies below what it imports here (ORDER in this file).`,
        ),
      ),
    only(
      `${layer}-has-a-place`,
      { path: `^src/${layer}/`, pathNot: ["[.]test[.]ts$", ...names.map(at)] },
      {},
      "This folder has no place in the order yet (ORDER in this file).",
    ),
  ];
});

module.exports = {
  forbidden: [
    ...inOrder,
    only("no-cycles", {}, { circular: true }, "A ring of imports has no bottom, nor has one of types."),
    only(
      "core-is-pure",
      { path: "^src/core", pathNot: "[.]test[.]ts$" },
      { path: "^src/(?!core)" },
      "The core knows nothing of its faces.",
    ),
    only(
      "core-without-platform",
      { path: "^src/core", pathNot: "[.]test[.]ts$" },
      {
        path: "^(node:|fs$|path$|crypto$)|node_modules/(next|react|react-dom|drizzle-orm|better-sqlite3)/",
        dependencyTypesNot: ["type-only"],
      },
      "No React, Next, database or Node in the core.",
    ),
    only(
      "handles-in-data",
      { pathNot: "^src/(data|testing|till|ledger-room)/" },
      { path: "node_modules/better-sqlite3", dependencyTypesNot: ["type-only"] },
      "Database handles are made in data alone.",
    ),
    only(
      "unscoped-rows",
      { pathNot: "^src/(data/|testing/shaped[.]ts)" },
      { path: "^src/data/(tables/(rows|physical|indexes|company)|records/query/(compile|select|links|by-relation))[.]ts" },
      "Rows without a viewer never leave data.",
    ),
    only(
      "stores-for-system",
      { path: "^src/(app|features|office|ui|identity|letters|joining|orders|staff|webhooks)", pathNot: "[.]test[.]ts$" },
      { path: "^src/data/tables/store[.]ts" },
      "Rooms write through write.ts, which decides.",
    ),
    only(
      "viewers-from-identity",
      { pathNot: "^src/(identity|testing)/" },
      { path: "^src/core/access/who/make-viewer[.]ts" },
      "A viewer proves who asks: identity alone makes one.",
    ),
    only(
      "data-below",
      { path: "^src/data" },
      { path: "^src/(identity|letters|joining|orders|staff|webhooks|features|office|services|server|app|ui|demo)" },
      "Data does not know who asks.",
    ),
    only(
      "identity-below",
      { path: "^src/identity", pathNot: "[.]test[.]ts$" },
      { path: "^src/(letters|joining|orders|staff|webhooks|features|office|services|server|app|ui|demo)" },
      "Identity does not know the rooms.",
    ),
    only(
      "letters-below",
      { path: "^src/letters", pathNot: "[.]test[.]ts$" },
      { path: "^src/(joining|orders|staff|webhooks|features|office|services|server|app|ui|demo)" },
      "Letters know who asks, and nothing of who sends them.",
    ),
    only(
      "homes-below",
      { path: "^src/(joining|orders|staff|webhooks)/", pathNot: "[.]test[.]ts$" },
      { path: "^src/(joining|orders|staff|webhooks|features|office|services|server|app|ui|demo)/", pathNot: "^src/$1/" },
      "Joining, orders, staff and webhooks lie below the rooms, and apart.",
    ),
    only(
      "ui-without-data",
      { path: "^src/ui" },
      { path: "^src/(data|identity|letters|joining|orders|staff|webhooks|features|office|services|server|app)" },
      "Shared components have no data of their own.",
    ),
    only(
      "rooms-apart",
      { path: "^src/features/([^/]+)/" },
      { path: "^src/features/", pathNot: "^src/features/$1/" },
      "A room never imports another room.",
    ),
    only(
      "services-below",
      { path: "^src/services", pathNot: "[.]test[.]ts$" },
      { path: "^src/(?!services|core|config)" },
      "A service knows what it sends or keeps, not whose it is.",
    ),
    only("office-below", { path: "^src/office" }, { path: "^src/(features|server|app|demo)" }, "What rooms share knows no room."),
    only(
      "sections-over-ui",
      { path: "^src/features/portal/ui/" },
      { path: "^src/features/portal/sections/" },
      "Sections show things with what the portal's ui has, not the other way round.",
    ),
    only("app-over-rooms", { path: "^src/app" }, { path: "^src/data" }, "A page loads and renders; what it loads is its room's to say."),
    only("features-below-app", { path: "^src/features" }, { path: "^src/app" }, "Pages know rooms, not the other way round."),
    only(
      "demo-apart",
      { path: "^src/(core|data|identity|letters|joining|orders|staff|webhooks|services|office|server|features|app|ui)" },
      { path: "^src/demo" },
      "The product does not lean on its demo.",
    ),
    only(
      "till-apart",
      { path: "^src/(?!till/|ledger-room/|demo/)", pathNot: "[.]test[.]ts$" },
      { path: "^src/(till|ledger-room)" },
      "The Till is a process of its own, as any provider is: it is spoken to over HTTP.",
    ),
    only("till-alone", { path: "^src/till" }, { path: "^src/(?!till/)" }, "The Till knows nothing of Elkhorn."),
    only("ledger-room-alone", { path: "^src/ledger-room" }, { path: "^src/(?!ledger-room/)" }, "The Ledger Room knows nothing of Elkhorn."),
    only(
      "command-line-on-top",
      { path: "^src/(?!command-line/)" },
      { path: "^src/command-line" },
      "The command line is a way in like the pages: nothing leans on it.",
    ),
    only("testing-apart", { path: "^src", pathNot: "[.]test[.]ts$|^src/testing" }, { path: "^src/testing" }, "Test worlds are for tests."),
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "node", "default", "types"],
      extensions: [".ts", ".tsx", ".mjs", ".js", ".json"],
    },
  },
};
