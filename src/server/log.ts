/** One JSON line for each thing worth knowing. Never a name, an address, a value or a secret of a person. */
import pino, { type Logger } from "pino";
import { config } from "@/config";
import { once } from "@/data/file/per-process";

export const log = (): Logger => once("log", () => pino({ level: config().log, base: null, timestamp: pino.stdTimeFunctions.isoTime }));
