"use server";
/** How long the log is kept. */
import { revalidatePath } from "next/cache";
import { keepLogFor, LOG_AGES } from "@/data/log/thin";
import { officeForm } from "@/office/action";
import { staleSignIn } from "@/office/fresh";

export const changeLogAge = officeForm("build", [], (p, form) => {
  // Whoever finds a browser open is not to have traces thrown away.
  const stale = staleSignIn(p);
  if (stale) return form.failed({}, stale);
  const asked = form.text("months", 10);
  const months = LOG_AGES.find((age) => String(age ?? "") === asked);
  if (months === undefined) return form.failed({ months: "Choose how long the log is kept." });
  keepLogFor(p.file, p.owner, months);
  revalidatePath(p.at, "layout");
  return form.succeeded("Saved.");
});
