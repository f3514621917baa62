/** Bounds on how long a source may take: one that hangs or drips is given up, and holds up neither other readings nor the end of the process. */
import { later, Troubled } from "./contract";

type Piece = readonly (readonly string[])[];

export interface Bounds {
  /** Milliseconds without a row. */
  readonly stall?: number;
  /** Milliseconds for all of it, as far as they are the source's. */
  readonly longest?: number;
  /** Bytes a second, on average, once the stall's time has passed. */
  readonly slowest?: number;
  /** Asked now and then: true breaks it off. */
  readonly broken?: () => boolean;
}

const LOOKS = 250;

/** The same pieces. @throws Troubled where they do not come in time; what `pieces` throws. */
export async function* timely(
  pieces: AsyncIterable<Piece>,
  { stall = 150_000, longest = 3_600_000, slowest = 1_000, broken = () => false }: Bounds = {},
): AsyncGenerator<Piece> {
  const source = pieces[Symbol.asyncIterator]();
  let [waited, bytes] = [0, 0];
  try {
    for (;;) {
      const from = performance.now();
      const step = await inTime(source.next(), stall, broken);
      waited += performance.now() - from;
      if (step.done) return;
      for (const row of step.value) for (const cell of row) bytes += cell.length + 1;
      if (waited > longest || (waited > stall && bytes / (waited / 1_000) < slowest)) throw new Troubled(later("It comes too slowly."));
      yield step.value;
    }
  } finally {
    // Not awaited: a source that hangs would hang here, too.
    void Promise.resolve(source.return?.()).catch(() => {});
  }
}

function inTime<T>(coming: Promise<T>, stall: number, broken: () => boolean): Promise<T> {
  const from = performance.now();
  return new Promise((done, fail) => {
    const look = setInterval(() => {
      if (broken()) end(() => fail(new Troubled(later("Elkhorn was stopped while it was read."))));
      else if (performance.now() - from > stall) end(() => fail(new Troubled(later("It did not go on in time."))));
    }, LOOKS);
    const end = (settle: () => void): void => {
      clearInterval(look);
      settle();
    };
    coming.then(
      (x) => end(() => done(x)),
      (e) => end(() => fail(e)),
    );
  });
}
