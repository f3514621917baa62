import { describe, expect, it } from "vitest";
import { ConfigError, readConfig } from "./config";

describe("settings", () => {
  it("have a working default each; nothing points to demo data", () => {
    const c = readConfig({});
    expect([c.port, c.address.href, c.secure, c.mail.via, c.log]).toEqual([3000, "http://localhost:3000/", false, "stand-in", "info"]);
    expect(c.data.endsWith("/data")).toBe(true);
  });
  it("cookies are secure whenever the address is https, whatever the port behind it", () => {
    expect(readConfig({ ELKHORN_ADDRESS: "https://portals.agency.example", ELKHORN_PORT: "8080" })).toMatchObject({
      secure: true,
      port: 8080,
    });
  });
  it.each([
    ["ELKHORN_PORT", "abc", "ELKHORN_PORT is “abc”; expected: a number from 1 to 65535."],
    ["ELKHORN_PORT", "70000", "ELKHORN_PORT is “70000”; expected: a number from 1 to 65535."],
    [
      "ELKHORN_ADDRESS",
      "portals.example",
      "ELKHORN_ADDRESS is “portals.example”; expected: an address that begins with http:// or https://.",
    ],
    ["ELKHORN_ADDRESS", "https://a.example/portals", "expected: an address without a path"],
    ["ELKHORN_MAIL", "mail.example", "expected: stand-in, or an address that begins with smtp:// or smtps://."],
    [
      "ELKHORN_FILES",
      "s3://key:secret@objects.example",
      "ELKHORN_FILES is “s3://…@objects.example”; expected: folder, or an address such as",
    ],
    ["ELKHORN_MAIL_FROM", "nobody", "ELKHORN_MAIL_FROM is “nobody”; expected: an e-mail address."],
    ["ELKHORN_LOG", "loud", "expected: debug, info, warn, error or silent."],
  ])("%s=%s is named with what is expected", (name, value, sentence) => {
    expect(() => readConfig({ [name]: value })).toThrow(ConfigError);
    expect(() => readConfig({ [name]: value })).toThrow(sentence);
  });
  it("all wrong ones are named at once", () => {
    expect(() => readConfig({ ELKHORN_PORT: "x", ELKHORN_LOG: "y" })).toThrow(/ELKHORN_PORT[\s\S]*ELKHORN_LOG/);
  });
});
