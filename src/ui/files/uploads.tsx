"use client";
/** Files on their way, known to the form that they belong to: it is sent when they have arrived, and not while one has failed. */
import { createContext, type ReactNode, useContext, useState } from "react";
import { useWords } from "../words";

export interface Upload {
  readonly name: string;
  readonly failed: boolean;
}

export class Uploads {
  readonly #boxes = new Map<string, readonly Upload[]>();
  readonly #told = new Set<() => void>();

  /** What is on its way in one box of files, and what did not arrive there. */
  tell(box: string, uploads: readonly Upload[]): void {
    this.#boxes.set(box, uploads);
    for (const told of [...this.#told]) told();
  }
  /** Names of files that are on their way. */
  get coming(): string[] {
    return this.#names((u) => !u.failed);
  }
  /** Names of files that did not arrive and that nobody has taken away since. */
  get failed(): string[] {
    return this.#names((u) => u.failed);
  }
  /** Fulfilled with true when nothing is on its way any more, with false when `stop` is called off before. */
  arrived(stop: AbortSignal): Promise<boolean> {
    return new Promise((done) => {
      const look = (): void => {
        if (this.coming.length > 0 && !stop.aborted) return;
        this.#told.delete(look);
        done(!stop.aborted);
      };
      this.#told.add(look);
      stop.addEventListener("abort", look);
      look();
    });
  }
  #names(which: (u: Upload) => boolean): string[] {
    return [...this.#boxes.values()].flat().flatMap((u) => (which(u) ? [u.name] : []));
  }
}

const Around = createContext<Uploads | null>(null);
export const useUploadsAround = (): Uploads | null => useContext(Around);

export interface Waiting {
  readonly names: readonly string[];
  readonly cancel: () => void;
}

/**
 * For whatever saves files: `ready` waits for those on their way, and answers null when all are there, or what to say where that is not so;
 * an empty sentence where the waiting was cancelled.
 */
export function useUploads() {
  const words = useWords();
  const [uploads] = useState(() => new Uploads());
  const [waiting, setWaiting] = useState<Waiting | null>(null);
  const ready = async (): Promise<string | null> => {
    if (uploads.coming.length > 0) {
      const stop = new AbortController();
      setWaiting({ names: uploads.coming, cancel: () => stop.abort() });
      const arrived = await uploads.arrived(stop.signal);
      setWaiting(null);
      if (!arrived) return "";
    }
    return uploads.failed.length > 0 ? `${words["files.failed"]} ${uploads.failed.join(", ")}` : null;
  };
  return { uploads, waiting, ready };
}

/** Around the boxes of files, and what is waited for below them. */
export function WithUploads({ uploads, waiting, children }: { uploads: Uploads; waiting: Waiting | null; children: ReactNode }) {
  const words = useWords();
  return (
    <Around value={uploads}>
      {children}
      {waiting && (
        <p role="status" className="alert alert-soft flex flex-wrap items-center gap-3">
          <span className="loading loading-spinner loading-xs" aria-hidden />
          <span>
            {words["files.waiting"]} {waiting.names.join(", ")}
          </span>
          <button type="button" className="btn btn-sm" onClick={waiting.cancel}>
            {words["form.cancel"]}
          </button>
        </p>
      )}
    </Around>
  );
}
