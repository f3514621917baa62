// What the server runs: Next's part, and the threads that Next knows nothing of.
import { build } from "./prepare.mjs";

await build();
