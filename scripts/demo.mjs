// npm run demo [-- --fresh] [--port 3000] [--data FOLDER] [--scale 1]: everything from a fresh clone to a running Elkhorn.
import { spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { join, resolve } from "node:path";
import { parseArgs } from "node:util";
import { bin, build, installPackages, isFile, ROOT, run } from "./prepare.mjs";

let values;
try {
  ({ values } = parseArgs({
    options: {
      fresh: { type: "boolean" },
      port: { type: "string", default: "3000" },
      data: { type: "string", default: ".demo-data" },
      scale: { type: "string", default: "1" },
      help: { type: "boolean" },
    },
  }));
} catch (e) {
  console.error(e.message);
  values = { help: true };
}
const port = Number(values.port);
if (values.help || !(port > 0 && port < 65536) || !(Number(values.scale) >= 1)) {
  console.log("npm run demo -- [--fresh] [--port 3000] [--data FOLDER] [--scale 1]");
  process.exit(values.help ? 0 : 1);
}
const data = resolve(ROOT, values.data);

const step = (n, words) => console.log(`[${n}/4] ${words}`);
const free = await new Promise((answer) => {
  const probe = createServer()
    .once("error", () => answer(false))
    .once("listening", () => probe.close(() => answer(true)));
  probe.listen(port, "localhost");
});
if (!free) {
  console.error(`Something answers on port ${port} already. Stop it, or choose another: npm run demo -- --port ${port + 1}`);
  process.exit(1);
}

step(1, "Packages");
await installPackages();
step(2, "Production build");
await build();

step(3, "Demo data");
const env = {
  ...process.env,
  ELKHORN_DATA: data,
  ELKHORN_PORT: String(port),
  ELKHORN_ADDRESS: `http://localhost:${port}`,
  NEXT_TELEMETRY_DISABLED: "1",
  NODE_ENV: "production",
  ELKHORN_DEMO: "on",
  ELKHORN_NAMES: "stand-in",
  // The stand-in organisation is a neighbour on this machine.
  ELKHORN_INSIDE: "localhost",
  ELKHORN_TILL: `http://till.localhost:${port + 2}`,
};
const facts = join(data, "demo-accounts.json");
// A folder with other things in it is never taken over, and only what a demo makes is ever removed.
const mark = join(data, ".elkhorn-demo");
const OURS = [
  "elkhorn.db",
  "elkhorn.db-shm",
  "elkhorn.db-wal",
  "portals",
  "imports",
  "files",
  "mail",
  "sms",
  "names",
  "organisation.json",
  "demo-accounts.json",
  "ledger.db",
  "ledger.db-shm",
  "ledger.db-wal",
  "till.db",
  "till.db-shm",
  "till.db-wal",
];
if (existsSync(data) && readdirSync(data).length > 0 && !existsSync(mark)) {
  console.error(`${data} has other things in it and was not made by this demo. Choose another folder with --data.`);
  process.exit(1);
}
if (values.fresh || (existsSync(mark) && !isFile(facts)))
  for (const name of OURS) rmSync(join(data, name), { recursive: true, force: true });
const organisation = join(data, "organisation.json");
if (isFile(facts)) console.log("  kept as it is (--fresh makes it anew)");
else {
  mkdirSync(data, { recursive: true });
  writeFileSync(mark, "");
  await describeOrganisation(organisation, port + 1);
  const status = run(bin("tsx"), ["src/demo/main.ts", String(port), values.scale], {
    env: { ...env, ELKHORN_DEMO_PROVIDER: organisation },
  });
  if (status !== 0) {
    console.error("The demo data could not be made; the lines above say why.");
    process.exit(status);
  }
}
const accounts = JSON.parse(readFileSync(facts, "utf8"));
// Another port than last time: the addresses follow.
accounts.office.url = `http://localhost:${port}`;
for (const p of accounts.portals) p.url = `http://${p.slug}.localhost:${port}`;
writeFileSync(facts, `${JSON.stringify(accounts, null, 2)}\n`, { mode: 0o600 });

/** The stand-in organisation: a key and a secret of its own, made with the demo. It loads what only a demo needs. */
async function describeOrganisation(path, at) {
  const { metadataOf, newKeys } = await import("./provider.mjs");
  const origin = `http://localhost:${at}`;
  const keys = await newKeys("Tarnmere College");
  const described = { origin, port: at, secret: randomUUID(), metadata: metadataOf(origin, keys), keys, domains: ["tarnmere.example"] };
  writeFileSync(path, JSON.stringify(described), { mode: 0o600 });
}
async function startOrganisation() {
  if (!isFile(organisation) || !accounts.providers) return null;
  const { startProvider } = await import("./provider.mjs");
  const o = JSON.parse(readFileSync(organisation, "utf8"));
  const [portal] = accounts.portals;
  const people = [
    ...portal.people
      .filter((p) => p.email.endsWith("@tarnmere.example"))
      .slice(0, 2)
      .map((p, i) => ({ sub: `tarn-${i + 1}`, name: p.name, email: p.email })),
    { sub: "tarn-guest", name: "Locum Wray", email: "locum@tarnmere.example" },
  ];
  const client = {
    client_id: "elkhorn",
    client_secret: o.secret,
    redirect_uris: [`${portal.url}/-/outside/${accounts.providers.oidc}/back`],
  };
  try {
    return await startProvider({ port: o.port, name: "Tarnmere College", people, clients: [client], keys: o.keys });
  } catch (e) {
    console.error(`  The stand-in organisation cannot start on port ${o.port} (${e.code ?? e.message}); the rest of the demo does.`);
    return null;
  }
}

step(4, "Starting");
const standIn = await startOrganisation();
// The payment provider is a process of its own, as a real one is.
const till = spawn(process.execPath, [bin("tsx"), join(ROOT, "src/till/main.ts"), String(port + 2), join(data, "till.db"), String(port)], {
  cwd: ROOT,
  stdio: ["ignore", "ignore", "inherit"],
});
// So is the records system that the agency keeps its clients in.
const ledger = accounts.ledger
  ? spawn(process.execPath, [bin("tsx"), join(ROOT, "src/ledger-room/main.ts"), String(port + 3), join(data, "ledger.db")], {
      cwd: ROOT,
      stdio: ["ignore", "ignore", "inherit"],
    })
  : null;
const server = spawn(process.execPath, [join(ROOT, "scripts/serve.mjs")], {
  cwd: ROOT,
  env,
  stdio: ["ignore", "ignore", "inherit"],
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => {
  till.kill();
  ledger?.kill();
  process.exit(code ?? 0); // and the stand-in with it
});
for (let i = 0; i < 200; i++) {
  const up = await fetch(`http://localhost:${port}/-/ready`).then(
    (r) => r.ok,
    () => false,
  );
  if (up) break;
  await new Promise((r) => setTimeout(r, 150));
}
const line = (name, company, roles, email, password) =>
  `  ${name.padEnd(18)} ${company.padEnd(26)} ${roles.padEnd(14)} ${email.padEnd(28)} ${password}`;
console.log(`
Elkhorn is running. Ctrl+C stops it; the data stays in ${data}

Back office   ${accounts.office.url}
  ${accounts.office.email}   ${accounts.office.password}

Telephone     ${accounts.office.url}/-/telephone   every SMS of the demo arrives there
The Till      http://till.localhost:${port + 2}   the payment provider, with its test cards
${ledger ? `Ledger Room   http://localhost:${port + 3}   a records system to connect, which can be told to misbehave; key ${accounts.ledger.key}\n` : ""}${standIn ? `Organisation  ${standIn.origin}   the sign-in of one client, which can be told to misbehave\n` : ""}`);
for (const s of accounts.staff ?? [])
  console.log(`Staff         ${s.name.padEnd(18)} ${s.role.padEnd(14)} ${s.email.padEnd(28)} ${s.password}`);
console.log("");
for (const p of accounts.portals) {
  console.log(`Portal        ${p.url}`);
  for (const x of p.people.filter((x) => x.roles.length > 0).slice(0, 12))
    console.log(line(x.name, x.company ?? "the agency", x.roles.join(","), x.email, x.password));
  console.log(`  … and ${Math.max(0, p.people.length - 12)} more in ${facts}`);
}
