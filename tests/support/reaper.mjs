// Ends whatever a run of tests started, when the run is over or was killed. It is a process of its own: its standard input is a pipe from
// the runner, which the system closes however the runner ends. Everything the run started has ELKHORN_RUN in its environment.
import { readdirSync, readFileSync } from "node:fs";

const mark = `ELKHORN_RUN=${process.argv[2]}`;

/** The processes of the run. Those of others cannot be read and are passed over; so is this one, which began without the mark. */
function left() {
  return readdirSync("/proc")
    .filter((name) => /^\d+$/.test(name) && Number(name) !== process.pid)
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/environ`, "utf8").split("\0").includes(mark);
      } catch {
        return false;
      }
    })
    .map(Number);
}

process.stdin.resume().on("close", () => {
  // Twice: one of them may have started another meanwhile.
  for (let i = 0; i < 2; i++)
    for (const pid of left())
      try {
        process.kill(pid, "SIGKILL");
      } catch {
        // It has just ended by itself.
      }
  process.exit();
});
