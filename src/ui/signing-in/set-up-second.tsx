"use client";
/** An authenticator is set up: its key, a code of it, and the recovery codes, shown once. In portals and in the back office. */
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import type { ClientWords } from "@/ui/words";
import { answerOf } from "../answered";
import { useWords } from "../words";

interface Begun {
  readonly id: string;
  readonly secret: string;
  readonly uri: string;
  readonly path: string;
  readonly size: number;
}
interface Props {
  begin: () => Promise<{ ok: true; value: Begun } | { ok: false; message: string }>;
  confirm: (id: string, code: string) => Promise<{ ok: true; codes: string[] } | { ok: false; message: string }>;
  onward: string;
}

/** Sets a second factor up: the code to scan, a first try, and the recovery codes. */
export function SetUpSecond({ begin, confirm, onward }: Props) {
  const words = useWords();
  const [begun, setBegun] = useState<Begun | null>(null);
  const [codes, setCodes] = useState<string[] | null>(null);
  const [code, setCode] = useState("");
  const [problem, setProblem] = useState("");
  const [pending, start] = useTransition();
  const run = (work: () => Promise<string>): void =>
    start(async () => {
      const told = await answerOf(work());
      setProblem(told ?? words["answer.none"]);
    });
  if (codes)
    return (
      <div className="grid gap-4">
        <p role="status">{words["second.keep"]}</p>
        <ul className="grid grid-cols-1 gap-x-6 gap-y-1 font-mono text-sm sm:grid-cols-2">
          {codes.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
        <a className="btn btn-primary justify-self-start" href={onward}>
          {words["second.kept"]}
        </a>
      </div>
    );
  if (!begun)
    return (
      <div className="grid gap-3">
        <button
          type="button"
          className="btn btn-primary justify-self-start"
          disabled={pending}
          onClick={() =>
            run(async () => {
              const answer = await begin();
              if (!answer.ok) return answer.message;
              setBegun(answer.value);
              return "";
            })
          }
        >
          {words["second.begin"]}
        </button>
        <p role="alert" className="field-error">
          {problem}
        </p>
      </div>
    );
  return (
    <form
      className="grid gap-4"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        run(async () => {
          const done = await confirm(begun.id, code);
          if (!done.ok) return done.message;
          setCodes(done.codes);
          return "";
        });
      }}
    >
      <p>{words["second.scan"]}</p>
      <svg viewBox={`-4 -4 ${begun.size + 8} ${begun.size + 8}`} className="w-48 max-w-full bg-white" role="img" aria-label={begun.uri}>
        <path d={begun.path} fill="#000" shapeRendering="crispEdges" />
      </svg>
      <code className="text-sm break-all">{begun.secret.match(/.{1,4}/g)?.join(" ")}</code>
      <FirstCode words={words} code={code} setCode={setCode} problem={problem} />
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        {words["second.confirm"]}
      </button>
    </form>
  );
}

interface FirstCodeProps {
  readonly words: ClientWords;
  readonly code: string;
  readonly setCode: Dispatch<SetStateAction<string>>;
  readonly problem: string;
}

/** The code that shows that the app is set up. */
function FirstCode({ words, code, setCode, problem }: FirstCodeProps) {
  return (
    <div>
      <label className="field-label" htmlFor="second-code">
        {words["second.then"]}
      </label>
      <input
        id="second-code"
        className="input w-40"
        inputMode="numeric"
        autoComplete="one-time-code"
        value={code}
        onChange={(e) => setCode(e.target.value)}
        aria-invalid={problem ? true : undefined}
        aria-describedby="second-error"
      />
      <p id="second-error" role="alert" className="field-error">
        {problem}
      </p>
    </div>
  );
}
