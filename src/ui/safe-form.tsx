"use client";
/**
 * Forms that keep what was typed where the server gives no answer: the session ended, the line is down, the server failed. Before the
 * page's script runs they post plainly, as any form does.
 */
import { type FormEvent, type ReactNode, type Ref, useActionState, useState, useTransition } from "react";
import { answered, answerOf } from "./answered";
import { type FormState, NEW_FORM } from "./form";
import { useWords } from "./words";

type Submitted = FormEvent<HTMLFormElement>;

function posted(e: Submitted): FormData {
  e.preventDefault();
  return new FormData(e.currentTarget, (e.nativeEvent as SubmitEvent).submitter);
}

/** A form whose action answers with sentences beside its fields; `form` goes onto the element. */
export function useSafeForm(action: (before: FormState, data: FormData) => Promise<FormState>) {
  const [plain, post] = useActionState(action, NEW_FORM);
  const [own, setOwn] = useState<FormState | null>(null);
  const [pending, start] = useTransition();
  const words = useWords();
  const state = own && own.turn >= plain.turn ? own : plain;
  const onSubmit = (e: Submitted): void => {
    const data = posted(e);
    if (pending) return;
    start(async () => {
      const next = await answerOf(action(state, data));
      start(() => setOwn(next ?? { ...state, done: undefined, message: `${words["answer.none"]} ${words["answer.advice"]}` }));
    });
  };
  return { state, pending, form: { action: post, onSubmit, noValidate: true } };
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
    const data = posted(e);
    if (!pending) start(async () => void (await answered(action(data))));
  };
  return (
    <form ref={ref} action={action} onSubmit={onSubmit} className={className} aria-busy={pending}>
      {children}
    </form>
  );
}
