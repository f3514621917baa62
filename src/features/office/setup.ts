"use server";
import { redirect } from "next/navigation";
import { z } from "zod";
import { makeOwner } from "@/identity/office/setup";
import { fromHere, setOfficeCookie } from "@/identity/requests/cookies";
import { sameOrigin } from "@/identity/requests/request";
import { type FormState, failed } from "@/ui/forms/form";

const owner = z.object({
  code: z.string().trim().min(1, "Write the code that the server printed.").max(100, "That is too long for the code."),
  name: z.string().trim().min(1, "Write your name.").max(120, "Keep the name under 120 characters."),
  email: z.email("Write an e-mail address like rosalind@agency.example.").max(254, "That is too long for an e-mail address."),
  password: z.string().min(1, "Choose a password.").max(1_000, "That is too long for a password."),
});

export async function setUp(before: FormState, data: FormData): Promise<FormState> {
  if (!(await sameOrigin())) return failed(before, data, {}, "Make the account from this page itself.");
  const parsed = owner.safeParse(Object.fromEntries(data));
  if (!parsed.success) return failed(before, data, Object.fromEntries(parsed.error.issues.map((i) => [String(i.path[0]), i.message])));
  const done = await makeOwner(parsed.data, await fromHere("office", "", parsed.data.email), Date.now());
  if (!done.ok) {
    const { field, message } = done.error;
    return field ? failed(before, data, { [field]: message }) : failed(before, data, {}, message);
  }
  await setOfficeCookie(done.value.token);
  redirect("/");
}
