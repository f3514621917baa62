import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { config } from "@/config";
import { formatMoment } from "@/core/text/format";
import { onMainHost } from "@/identity/requests/request";
import { smsFolder } from "@/services/sms";
import { arrivedIn } from "@/services/sms/stand-in";

export const metadata: Metadata = { title: "The stand-in telephone" };

type Props = { searchParams: Promise<{ number?: string }> };

/** What the stand-in has been sent: in a demo alone, since whoever reads it comes in as its owner. */
export default async function Page({ searchParams }: Props) {
  const c = config();
  if (!c.demo || c.sms !== "stand-in" || !(await onMainHost())) notFound();
  const { number } = await searchParams;
  const list = arrivedIn(smsFolder(c), number || null);
  return (
    <main className="mx-auto grid max-w-md gap-5 px-4 py-8">
      <div>
        <h1>The stand-in telephone</h1>
        <p className="quiet mt-1">Every SMS of this demo arrives here, whosever number it went to.</p>
      </div>
      <form className="flex items-end gap-2">
        <div className="grow">
          <label className="field-label" htmlFor="number">
            Only those to the number
          </label>
          <input id="number" name="number" type="tel" className="input w-full" defaultValue={number} placeholder="+44…" />
        </div>
        <button type="submit" className="btn">
          Show
        </button>
      </form>
      <ul className="grid gap-3">
        {list.map((m) => (
          <li key={`${m.at} ${m.to}`} className="sheet p-4">
            <p className="quiet text-sm">
              {m.to} · {formatMoment(new Date(m.at).toISOString(), "en-GB", "UTC")}
            </p>
            <p className="mt-1">{m.text}</p>
          </li>
        ))}
        {list.length === 0 && <li className="quiet">{number ? "Nothing has come to that number." : "Nothing has come yet."}</li>}
      </ul>
    </main>
  );
}
