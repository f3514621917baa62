"use client";
import { unstable_rethrow } from "next/navigation";
import { toast } from "sonner";

/** Nobody can know whether the server had done it before the line broke. */
export const NO_ANSWER = {
  title: "No answer came: you may be offline or signed out, and this may not be kept.",
  advice: "What you typed is still here. Look whether it arrived, sign in in another window if need be, and send it again.",
};

/** What the server answers, or null where no answer comes. */
export async function answerOf<T>(asking: Promise<T>): Promise<T | null> {
  try {
    return await asking;
  } catch (e) {
    unstable_rethrow(e); // the framework's own, such as a redirect
    return null;
  }
}

/** Where no answer comes this says so, and null comes back: what was typed stays where it is. */
export async function answered<T>(asking: Promise<T>): Promise<T | null> {
  const answer = await answerOf(asking.then((value) => ({ value })));
  if (answer) return answer.value;
  toast.error(NO_ANSWER.title, { description: NO_ANSWER.advice, duration: 30_000 });
  return null;
}
