/** Who is billed: as invoices name them. Countries by ISO 3166-1 alpha-2. */
import { z } from "zod";
import { isEmail } from "../text/email";

const text = (most: number, what: string) => z.string().trim().max(most, `${what} is longer than ${most} signs.`);

export const buyerSchema = z.strictObject({
  name: text(200, "The name").min(1, "Write the name that the invoice is to."),
  email: z.string().trim().max(254).refine(isEmail, "Write an e-mail address, such as accounts@company.example."),
  address: text(500, "The address"),
  country: z.string().regex(/^[A-Z]{2}$|^$/, "Choose a country."),
  taxNumber: text(40, "The tax number"),
  /** What the buyer wants to find on the invoice: an order number, a name. */
  reference: text(100, "The reference"),
});
export type Buyer = z.infer<typeof buyerSchema>;
