"use server";
/** No more mail that nobody asked for, and the way back, by the link that the mail had. */
import { revalidatePath } from "next/cache";
import { z } from "zod";
import { startMail, stopMail, stoppedBy } from "@/letters/stop-mail";
import { portalCall } from "@/office/portal-action";

export const changeStop = portalCall([z.instanceof(FormData)], async (r, data): Promise<void> => {
  const email = stoppedBy(r.file, String(data.get("token") ?? ""));
  if (!email) return;
  (data.get("act") === "start" ? startMail : stopMail)(r.file, email, r.viewer.now);
  revalidatePath("/", "layout");
});
