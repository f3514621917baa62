"use client";
import { unstable_rethrow } from "next/navigation";
import { toast } from "sonner";
import { ON_THE_CLIENT } from "@/core/words/english-client";

/** What the server answers, or null where no answer comes: nobody can know whether the server had done it before the line broke. */
export async function answerOf<T>(asking: Promise<T>): Promise<T | null> {
  try {
    return await asking;
  } catch (e) {
    unstable_rethrow(e); // the framework's own, such as a redirect
    return null;
  }
}

/** Waits for an action of the back office. Where no answer comes it says so and gives null, so that the caller leaves what was typed alone. */
export async function answered<T>(asking: Promise<T>): Promise<T | null> {
  const answer = await answerOf(asking.then((value) => ({ value })));
  if (answer) return answer.value;
  toast.error(ON_THE_CLIENT["answer.none"], { description: ON_THE_CLIENT["answer.advice"], duration: 30_000 });
  return null;
}
