import { z } from "zod";

export const id = z.string().regex(/^[a-z][a-z0-9_-]{0,60}$/);
export const name = z.string().trim().min(1, "Give it a name.").max(80, "Keep the name under 80 characters.");
