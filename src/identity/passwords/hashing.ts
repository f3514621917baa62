/** Passwords are hashed a few at a time: each takes 19 MiB and 11 ms of a thread, and threads are what files are read with, too. */
import { hash, verify } from "@node-rs/argon2";
import { once } from "@/data/file/per-process";

const AT_ONCE = 2;
/** Half a second of work stands in line at the most; whoever comes then is told to come again. */
const MOST_WAITING = 60;

export class TooMany extends Error {
  override message = "Too many passwords are being checked at once.";
}

const line = once("passwords being hashed", () => ({ running: 0, waiting: [] as (() => void)[] }));

/** @throws TooMany where the line is full. */
async function inTurn<T>(work: () => Promise<T>, most: number): Promise<T> {
  if (line.running >= AT_ONCE) {
    if (line.waiting.length >= most) throw new TooMany();
    await new Promise<void>((go) => line.waiting.push(go));
  } else line.running++;
  try {
    return await work();
  } finally {
    // Who is next takes this one's place, so that nobody comes between.
    const next = line.waiting.shift();
    if (next) next();
    else line.running--;
  }
}

/** 2 is argon2id: the package's enum is const and erased. OWASP's minimum ("Password Storage Cheat Sheet"). */
const OPTIONS = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** Whoever sets a password is in already, and waits as long as it takes. */
export const argonHash = (text: string): Promise<string> => inTurn(() => hash(text, OPTIONS), Number.POSITIVE_INFINITY);
/** @throws TooMany where the line is full: whoever tries one is a stranger until it is right. */
export const argonVerify = (stored: string, text: string): Promise<boolean> => inTurn(() => verify(stored, text), MOST_WAITING);
