"use client";
/**
 * Forms that keep what was typed where the server gives no answer: the session ended, the line is down, the server failed. Before the
 * page's script runs they post plainly, as any form does.
 */
import { type FormEvent, type ReactNode, type Ref, useActionState, useRef, useState, useTransition } from "react";
import { answered, answerOf } from "../answered";
import { useUploads } from "../files/uploads";
import { useWords } from "../words";
import { type FormState, NEW_FORM } from "./form";

type Submitted = FormEvent<HTMLFormElement>;

const posted = (form: HTMLFormElement, by: HTMLElement | null): FormData => new FormData(form, by?.isConnected ? by : null);
const submitterOf = (e: Submitted): HTMLElement | null => (e.nativeEvent as SubmitEvent).submitter;

/**
 * A form whose action answers with sentences beside its fields; `form` goes onto the element. Where it has boxes of files, `<WithUploads
 * {...files}>` stands around them: it is sent when they have arrived. `trim` takes out what is not to be sent.
 */
export function useSafeForm(action: (before: FormState, data: FormData) => Promise<FormState>, trim?: (data: FormData) => void) {
  const [plain, post] = useActionState(action, NEW_FORM);
  const [own, setOwn] = useState<FormState | null>(null);
  const [pending, start] = useTransition();
  const { uploads, waiting, ready } = useUploads();
  const words = useWords();
  const state = own && own.turn >= plain.turn ? own : plain;
  const busy = useRef(false);
  const send = async (form: HTMLFormElement, by: HTMLElement | null): Promise<void> => {
    // Before the transition: what is said while files are waited for would otherwise be drawn when it is over.
    const trouble = await ready();
    if (trouble !== null) {
      if (trouble) setOwn({ ...state, done: undefined, message: trouble });
      return;
    }
    const data = posted(form, by);
    trim?.(data);
    start(async () => {
      const next = await answerOf(action(state, data));
      start(() => setOwn(next ?? { ...state, done: undefined, message: `${words["answer.none"]} ${words["answer.advice"]}` }));
    });
  };
  const onSubmit = (e: Submitted): void => {
    e.preventDefault();
    if (pending || busy.current) return;
    busy.current = true;
    void send(e.currentTarget, submitterOf(e)).finally(() => {
      busy.current = false;
    });
  };
  const waits = pending || waiting !== null;
  return { state, pending: waits, form: { action: post, onSubmit, noValidate: true }, files: { uploads, waiting } };
}

interface Props {
  ref?: Ref<HTMLFormElement>;
  action: (data: FormData) => Promise<void>;
  className?: string;
  children: ReactNode;
}

/** A form whose action leads on or changes the page. */
export function SafeForm({ ref, action, className, children }: Props) {
  const [pending, start] = useTransition();
  const onSubmit = (e: Submitted): void => {
    e.preventDefault();
    const data = posted(e.currentTarget, submitterOf(e));
    if (!pending) start(async () => void (await answered(action(data))));
  };
  return (
    <form ref={ref} action={action} onSubmit={onSubmit} className={className} aria-busy={pending}>
      {children}
    </form>
  );
}
