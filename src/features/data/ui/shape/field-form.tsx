"use client";
import { useState } from "react";
import type { FieldType } from "@/core/schema/fields";
import {
  choosesSeveral,
  isCounted,
  isDated,
  isFreeText,
  isMoment,
  isNumber,
  isRelation,
  isSummed,
  isYesNo,
  pointsToOne,
  pointsToSeveral,
} from "@/core/schema/fields/natures";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Line, Said, Tick } from "./form-parts";

export interface FieldShape {
  name: string;
  type: FieldType;
  help: string;
  required: boolean;
  unique: boolean;
  offForms: boolean;
  offSearch: boolean;
  onRemoval: "clear" | "refuse" | "remove";
  unit: string;
  plain: boolean;
  least: string;
  most: string;
  longest: string;
  mask: string;
  maskSays: string;
  prefix: string;
  digits: string;
  default: string;
  defaultValue: string;
  toPeople: boolean;
  /** Set by Elkhorn, not by people. */
  fixed: boolean;
}

interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  shape: FieldShape;
}

export function FieldForm({ action, shape: s }: Props) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="sheet grid max-w-3xl gap-4 p-6">
      <Said state={state} />
      <Line name="name" label="Name" state={state} value={s.name} />
      {!s.fixed && <Line name="help" label="Said under it in forms" state={state} value={s.help} />}
      <OfType s={s} state={state} />
      {!s.fixed && <Default s={s} state={state} />}
      {pointsToOne(s) && !s.fixed && (
        <div>
          <label className="field-label" htmlFor="onRemoval">
            When the record it points to is removed
          </label>
          <select id="onRemoval" name="onRemoval" className="select w-full" defaultValue={s.onRemoval}>
            <option value="clear">this becomes empty</option>
            <option value="refuse">that is refused as long as this points to it</option>
            <option value="remove">this record goes with it</option>
          </select>
        </div>
      )}
      <fieldset className="grid gap-2">
        <legend className="sr-only">Rules</legend>
        {!s.fixed && (
          <Tick name="required" on={s.required}>
            Required: no record is kept without it
          </Tick>
        )}
        {!s.fixed && !pointsToSeveral(s) && !choosesSeveral(s) && !isYesNo(s) && (
          <Tick name="unique" on={s.unique}>
            Unlike every other <span className="quiet">(where records belong to companies: within each)</span>
          </Tick>
        )}
        {!s.fixed && (
          <Tick name="offForms" on={s.offForms}>
            Not asked for in forms
          </Tick>
        )}
        <Tick name="offSearch" on={s.offSearch}>
          Searching does not look here
        </Tick>
        {state.errors.unique && <p className="field-error">{state.errors.unique}</p>}
      </fieldset>
      <div>
        <button type="submit" className="btn btn-primary" disabled={pending}>
          Keep
        </button>
      </div>
    </form>
  );
}

function OfType({ s, state }: { s: FieldShape; state: FormState }) {
  if (isSummed(s))
    return (
      <div className="grid gap-4 sm:grid-cols-3">
        {isNumber(s) && <Line name="unit" label="Unit" state={state} value={s.unit} hint="Such as mm" />}
        <Line name="least" label="At least" state={state} value={s.least} />
        <Line name="most" label="At most" state={state} value={s.most} />
        {isNumber(s) && (
          <Tick name="plain" on={s.plain}>
            Without grouping, as years are: 1914
          </Tick>
        )}
      </div>
    );
  if (isFreeText(s))
    return (
      <div className="grid gap-4 sm:grid-cols-3">
        <Line name="longest" label="Characters at most" state={state} value={s.longest} />
        <Line name="mask" label="Form" state={state} value={s.mask} hint="A a letter, 0 a digit, ? either, * the rest: AA-000*" />
        <Line name="maskSays" label="Said where it does not fit" state={state} value={s.maskSays} />
      </div>
    );
  if (isCounted(s))
    return (
      <div className="grid gap-4 sm:grid-cols-2">
        <Line name="prefix" label="Before the number" state={state} value={s.prefix} />
        <Line name="digits" label="Digits" state={state} value={s.digits} />
      </div>
    );
  return null;
}

/** What a new record has where nothing is given. */
function Default({ s, state }: { s: FieldShape; state: FormState }) {
  const [kind, setKind] = useState(s.default);
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <div>
        <label className="field-label" htmlFor="default">
          A new record begins with
        </label>
        <select id="default" name="default" className="select w-full" value={kind} onChange={(e) => setKind(e.target.value)}>
          <option value="">nothing</option>
          {!isRelation(s) && <option value="value">this value</option>}
          {isDated(s) && <option value="today">the day it is made</option>}
          {isMoment(s) && <option value="now">the moment it is made</option>}
          {pointsToOne(s) && s.toPeople && <option value="person">whoever makes it</option>}
        </select>
      </div>
      {kind === "value" && <Line name="defaultValue" label="The value" state={state} value={s.defaultValue} />}
    </div>
  );
}
