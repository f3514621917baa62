/** What a form's action answers: sentences beside their fields, a message over the form, and what was typed so that nothing is lost. */
export interface FormState {
  readonly errors: Readonly<Record<string, string>>;
  readonly message?: string | undefined;
  readonly done?: string | undefined;
  readonly values: Readonly<Record<string, string | string[]>>;
  /** Rises with each answer: fields are made anew with the values given back. */
  readonly turn: number;
  /** Rises with each answer that it is done: passwords, which are not given back, stay in their boxes until then. */
  readonly successes: number;
}

export const NEW_FORM: FormState = { errors: {}, values: {}, turn: 0, successes: 0 };

/** The next state of a form that was refused: what was typed, and a sentence for each field. */
export const failed = (before: FormState, data: FormData, errors: Readonly<Record<string, string>>, message?: string): FormState => ({
  errors,
  message,
  values: typed(data),
  turn: before.turn + 1,
  successes: before.successes,
});
/** The next state of a form that was taken, with what is said then. */
export const succeeded = (before: FormState, done: string): FormState => ({
  errors: {},
  done,
  values: {},
  turn: before.turn + 1,
  successes: before.successes + 1,
});

/** Passwords are never given back. */
const NEVER = new Set(["password", "again", "present", "secret"]);

function typed(data: FormData): Record<string, string | string[]> {
  const out: Record<string, string | string[]> = {};
  for (const name of new Set(data.keys())) {
    if (name.startsWith("$") || NEVER.has(name)) continue;
    const all = data.getAll(name).filter((v): v is string => typeof v === "string");
    out[name] = all.length > 1 ? all : (all[0] ?? "");
  }
  return out;
}
