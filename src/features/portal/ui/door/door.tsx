/** All doors that are open, as the sign-in page and a section on any page show them. */

import type { PortalRequest } from "@/identity/requests/request";
import { joining } from "@/joining/settings";
import { UsePasskey } from "@/ui/signing-in/passkeys";
import { SignInForm } from "@/ui/signing-in/sign-in-form";
import { signIn } from "../../door/actions";
import { openDoors, organisationsOf } from "../../door/doors";
import { askPasskey, comeByPasskey } from "../../door/own-actions";
import { sayOf } from "../../queries";
import { marked } from "../marked";
import { Inside } from "./inside";

/** `at`: the domain of an address that several organisations speak for. */
export function Door({ r, to, joins = true, at = "" }: { r: PortalRequest; to: string; joins?: boolean; at?: string }) {
  const say = sayOf(r);
  const doors = openDoors(r, say);
  const organisations = at ? organisationsOf(r, at) : [];
  const others = [...doors.codes, ...(doors.outside ? [{ id: "outside", label: say("outside.ask") }] : [])];
  const leading = (path: string) => (words: string) => (
    <a className="link-plain" href={r.base + path}>
      {words}
    </a>
  );
  const shown = (
    <>
      <SignInForm action={signIn} to={to} password={doors.password} others={others} names={doors.names}>
        {(doors.passkey || organisations.length > 0) && (
          <>
            {doors.passkey && <UsePasskey ask={askPasskey} come={comeByPasskey} to={to} />}
            {organisations.map((p) => (
              <a
                key={p.id}
                className="btn btn-soft btn-sm h-auto min-h-9 py-1"
                href={`${r.base}/-/outside/${p.id}?to=${encodeURIComponent(to)}`}
              >
                {say("outside.with", { provider: p.name })}
              </a>
            ))}
          </>
        )}
      </SignInForm>
      {doors.link && (
        <p className="quiet mt-6 text-sm">
          {marked(
            say.marked(
              doors.password ? "door.forgotten" : "door.by-link",
              {},
              { way: leading(to === "/" ? "/-/forgotten" : `/-/forgotten?to=${encodeURIComponent(to)}`) },
            ),
          )}
        </p>
      )}
      {joins && joining(r.file).who !== "nobody" && (
        <p className="quiet mt-2 text-sm">
          {marked(say.marked("join.way", {}, { way: leading(to === "/" ? "/-/join" : `/-/join?to=${encodeURIComponent(to)}`) }))}
        </p>
      )}
    </>
  );
  return r.published.definition.frames.length > 0 ? <Inside base={r.base}>{shown}</Inside> : shown;
}
