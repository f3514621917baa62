"use client";
/** Passkeys: used at the door, and made inside. What speaks with the device is loaded when it is wanted. */
import type {
  AuthenticationResponseJSON,
  PublicKeyCredentialCreationOptionsJSON,
  PublicKeyCredentialRequestOptionsJSON,
  RegistrationResponseJSON,
} from "@simplewebauthn/browser";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { useWords } from "@/ui/words";

interface UseProps {
  ask: () => Promise<PublicKeyCredentialRequestOptionsJSON | null>;
  come: (response: AuthenticationResponseJSON, to: string) => Promise<{ to: string } | { problem: string }>;
  to: string;
}

/** The button that signs in by a passkey, where the browser has them. */
export function UsePasskey({ ask, come, to }: UseProps) {
  const words = useWords();
  const router = useRouter();
  const [problem, setProblem] = useState("");
  const [pending, start] = useTransition();
  const go = (): void =>
    start(async () => {
      try {
        setProblem("");
        const [optionsJSON, { startAuthentication }] = await Promise.all([ask(), import("@simplewebauthn/browser")]);
        if (!optionsJSON) return setProblem(words["answer.none"]);
        const done = await come(await startAuthentication({ optionsJSON }), to);
        if ("problem" in done) setProblem(done.problem);
        else router.push(done.to);
      } catch {
        setProblem(words["passkey.broken"]);
      }
    });
  return (
    <>
      <button type="button" className="btn btn-soft btn-sm h-auto min-h-9 py-1" disabled={pending} onClick={go}>
        {words["passkey.use"]}
      </button>
      <p role="alert" className="field-error order-last col-span-2 empty:hidden">
        {problem}
      </p>
    </>
  );
}

type Asked<T> = { ok: true; value: T } | { ok: false; message: string };
interface NewProps {
  ask: () => Promise<Asked<PublicKeyCredentialCreationOptionsJSON>>;
  keep: (response: RegistrationResponseJSON, name: string) => Promise<Asked<null>>;
}

/** The button that makes a passkey, where the browser has them. */
export function NewPasskey({ ask, keep }: NewProps) {
  const words = useWords();
  const router = useRouter();
  const [problem, setProblem] = useState("");
  const [pending, start] = useTransition();
  const go = (): void =>
    start(async () => {
      try {
        setProblem("");
        const asked = await ask();
        if (!asked.ok) return setProblem(asked.message);
        const { startRegistration } = await import("@simplewebauthn/browser");
        const response = await startRegistration({ optionsJSON: asked.value });
        // What the device is called, as its browser says.
        const on = /\(([^;)]+)/.exec(navigator.userAgent)?.[1] ?? "";
        const done = await keep(response, on);
        if (!done.ok) setProblem(done.message);
        else router.refresh();
      } catch {
        setProblem(words["passkey.broken"]);
      }
    });
  return (
    <div className="grid justify-items-start gap-1">
      <button type="button" className="btn btn-sm" disabled={pending} onClick={go}>
        {words["passkey.make"]}
      </button>
      <p role="alert" className="field-error empty:hidden">
        {problem}
      </p>
    </div>
  );
}
