import { countriesIn } from "@/core/text/countries";
import type { PortalRequest } from "@/identity/requests/request";
import { sayHere } from "../here";

/** Where the buyer is, before any sum is shown: the tax depends on it. A plain form, so that the choice stands in the address. */
export function CountryFirst({ r, hidden }: { r: PortalRequest; hidden: Readonly<Record<string, string>> }) {
  const say = sayHere(r);
  const { company } = r.viewer;
  const own = company === null || hidden.own === "1";
  return (
    <form className="sheet mx-auto grid w-full max-w-xl gap-4 p-6" action={`${r.base}/-/buy`}>
      <h1>{own ? say("buy.where-you") : say("buy.where", { company: company.name })}</h1>
      <p className="quiet">{say(own ? "buy.where-why" : "buy.where-why-company")}</p>
      {Object.entries(hidden).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <label className="grid gap-1 font-medium">
        {say("buy.country")}
        <select name="country" required defaultValue="" className="select w-full">
          <option value="" disabled>
            {say("form.choose-country")}
          </option>
          {countriesIn(say.locale).map((c) => (
            <option key={c.code} value={c.code}>
              {c.name}
            </option>
          ))}
        </select>
      </label>
      <button type="submit" className="btn btn-primary justify-self-start">
        {say("buy.go-on")}
      </button>
    </form>
  );
}
