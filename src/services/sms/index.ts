import { join } from "node:path";
import type { Config } from "@/config";
import type { SmsChannel } from "./contract";
import { gatewaySms } from "./gateway";
import { standInSms } from "./stand-in";

/** Where the stand-in telephone keeps what came. */
export const smsFolder = (c: Config): string => join(c.data, "sms");
/** What sends text messages, as it is configured. */
export const smsOf = (c: Config): SmsChannel => (c.sms === "stand-in" ? standInSms(smsFolder(c)) : gatewaySms(c.sms));
