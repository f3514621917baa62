/** Telephone numbers as a telephone dials them: E.164, read as the country writes them. */

import type { CountryCode } from "libphonenumber-js";
import { parsePhoneNumberFromString } from "libphonenumber-js/min";

/** "+442079460000", or null where the number cannot be read without knowing more. `country` is ISO 3166-1 alpha-2. */
export function e164(text: string, country?: string): string | null {
  const found = parsePhoneNumberFromString(text, country as CountryCode | undefined);
  return found?.isPossible() ? found.number : null;
}

/** For links (RFC 3966): numbers without a country are of the locale's own. An extension is dialled by hand. */
export const dialIn =
  (locale: string) =>
  (text: string, country: string | undefined): string | null => {
    const number = e164(text, country ?? new Intl.Locale(locale).maximize().region);
    return number ? `tel:${number}` : null;
  };
