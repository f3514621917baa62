"use client";
import type { Outcome, Ready } from "@/data/definition/background";
import { usePolled } from "@/ui/use-polled";
import type { Matrix } from "../sightlines";

/** Asks for the matrix and, while it is being worked out, asks again. */
export const useMatrix = (at: string, which: string): Outcome<Matrix> =>
  usePolled<Ready<Matrix>>(`${at}/sightlines/data?of=${which}`, { every: 200 });
