"use client";
import { unstable_rethrow } from "next/navigation";
import { toast } from "sonner";

/** Where the server gives no answer this says so, and null comes back: what was typed stays where it is. */
export async function answered<T>(asking: Promise<T>): Promise<T | null> {
  try {
    return await asking;
  } catch (e) {
    unstable_rethrow(e); // the framework's own, such as a redirect
    toast.error("No answer came, so this may not be kept. You may be signed out or offline.", {
      description: "What you typed is still here: sign in again in another window, then try once more.",
      duration: 30_000,
    });
    return null;
  }
}
