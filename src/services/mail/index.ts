/** The mail channel that the settings name. */
import { join } from "node:path";
import type { Config } from "@/config";
import type { MailChannel } from "./contract";
import { smtpMail } from "./smtp";
import { standInMail } from "./stand-in";

/** What sends mail, as it is configured. */
export const mailOf = (c: Config): MailChannel =>
  c.mail.via === "stand-in" ? standInMail(join(c.data, "mail"), c.mail.from) : smtpMail(c.mail.via, c.mail.from);
