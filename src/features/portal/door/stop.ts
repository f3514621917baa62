"use server";
/** No more mail that nobody asked for, and the way back, by the link that the mail had. */
import { revalidatePath } from "next/cache";
import { requestPortalWrite } from "@/identity/requests/request";
import { startMail, stopMail, stoppedBy } from "@/letters/stop-mail";

export async function changeStop(data: FormData): Promise<void> {
  const r = await requestPortalWrite();
  const email = stoppedBy(r.file, String(data.get("token") ?? ""));
  if (!email) return;
  (data.get("act") === "start" ? startMail : stopMail)(r.file, email, r.viewer.now);
  revalidatePath("/", "layout");
}
