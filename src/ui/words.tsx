"use client";
/** The words that shared controls say by themselves, in the language of whatever stands around them; the back office speaks English. */
import { createContext, type ReactNode, useContext } from "react";
import { ON_THE_CLIENT } from "@/core/words/english-client";

export type ClientWords = { readonly [K in keyof typeof ON_THE_CLIENT]: string };
const Words = createContext<ClientWords>(ON_THE_CLIENT);

/** The words of the catalogue that the browser needs. */
export const useWords = (): ClientWords => useContext(Words);

/** Gives the words of a language to whatever is inside. */
export function WordsAround({ words, children }: { words: ClientWords; children: ReactNode }) {
  return <Words value={words}>{children}</Words>;
}
