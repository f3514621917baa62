import { getCountries } from "libphonenumber-js";
import { expect, it } from "vitest";
import { countriesIn, countryName } from "./countries";

it("are all that a list of telephone regions has, which has nearly all countries, each once and by name", () => {
  const list = countriesIn("en-GB");
  const codes = new Set(list.map((c) => c.code));
  // Ascension and Tristan da Cunha have codes that ISO 3166-1 only reserves.
  expect(getCountries().filter((c) => !codes.has(c))).toEqual(["AC", "TA"]);
  expect(list.length).toBe(codes.size);
  // ISO 3166-1 has 249 officially assigned codes (from memory); Kosovo's XK is a user-assigned one in wide use.
  expect(list.length).toBe(250);
  expect([countryName("IE", "en-GB"), countryName("DE", "nl-NL"), countryName("QQ", "en")]).toEqual(["Ireland", "Duitsland", "QQ"]);
});
