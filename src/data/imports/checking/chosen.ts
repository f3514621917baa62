/** Cells of a field that has choices already: words that are none are told, taken for one that is near, or become choices if asked. */

import type { Named } from "@/core/exchange/nearest";
import { err, ok, type Result } from "@/core/result";
import { findChoice, formerChoice, wordsOfChoices } from "@/core/schema/fields/choice";
import { type Choice, type Field, kindOf } from "@/core/schema/types";
import { MOST_CHOICE_NAME, MOST_CHOICES } from "../../schema/choices";
import { keyOf } from "../../tables/lookup";
import { MARK, type StagedColumn } from "../reading/planned";

type Chosen = Extract<Field, { type: "choice" | "choices" }>;

/** The mark of a choice that is still to be made. */
const mark = (at: number, text: string): string => `${MARK}${at}:${keyOf(text)}`;

export class ChoiceReader {
  #field: Chosen;
  /** By mark: choices that the file adds. */
  readonly added = new Map<string, string>();

  constructor(
    private readonly column: StagedColumn,
    /** Told of each word that is no choice and is not made one. */
    private readonly miss: (mark: string, text: string) => void,
  ) {
    this.#field = column.field as Chosen;
  }

  /** The field with the choices that it is to have. */
  get field(): Field {
    return this.#field;
  }
  get names(): readonly Named[] {
    return this.column.field.options.choices ?? [];
  }

  /** Ids of choices, or the marks of those to be made. */
  read(text: string): Result<string[], string> {
    const many = kindOf(this.#field).many !== null;
    const ids: string[] = [];
    for (const part of wordsOfChoices(this.#field, many, text)) {
      const id = this.#one(part);
      if (!id.ok) return id;
      ids.push(id.value);
    }
    return ok([...new Set(ids)]);
  }

  #one(text: string): Result<string, string> {
    const { plan, at } = this.column;
    const id = findChoice(this.#field, text) ?? plan.as?.[keyOf(text)] ?? formerChoice(this.#field, text);
    if (id !== undefined && this.#field.options.choices.some((c) => c.id === id)) return ok(id);
    if (!plan.add) {
      this.miss(mark(at, text), text);
      const read = kindOf(this.#field).parse([text], this.#field as never);
      return err(read.ok ? "" : read.error);
    }
    if (text.length > MOST_CHOICE_NAME) return err(`A choice is at most ${MOST_CHOICE_NAME} characters long.`);
    if (this.#field.options.choices.length >= MOST_CHOICES) return err(`A field has ${MOST_CHOICES} choices at the most.`);
    const fresh: Choice = { id: mark(at, text), name: text };
    this.added.set(fresh.id, text);
    this.#field = { ...this.#field, options: { ...this.#field.options, choices: [...this.#field.options.choices, fresh] } };
    return ok(fresh.id);
  }
}
