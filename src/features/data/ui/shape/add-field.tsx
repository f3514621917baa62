"use client";
import { useState } from "react";
import { hasChoices, hasDecimals, isCounted, isMadeFromAnother, isMoney, isNumber, isRelation } from "@/core/schema/fields/natures";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Line, Said, Tick } from "./form-parts";

interface Named {
  id: string;
  name: string;
}
interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  types: Named[];
  tables: Named[];
  /** Fields that a readable address can be made from. */
  fields: Named[];
  currency: string;
}

export function AddField({ action, types, tables, fields, currency }: Props) {
  const { state, pending, form } = useSafeForm(action);
  const [type, setType] = useState("text");
  return (
    <form {...form} className="grid gap-3">
      <Said state={state} />
      <div className="flex flex-wrap items-start gap-4">
        <Line name="name" label="Add a field called" state={state} value="" className="w-full sm:w-56" />
        <div className="w-full sm:w-52">
          <label className="field-label" htmlFor="type">
            It holds
          </label>
          <select id="type" name="type" className="select w-full" value={type} onChange={(e) => setType(e.target.value)}>
            {types.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
            <optgroup label="Kept by Elkhorn">
              <option value="made-at">When it was made</option>
              <option value="made-by">Who made it</option>
              <option value="changed-at">When it was last changed</option>
              <option value="changed-by">Who last changed it</option>
            </optgroup>
          </select>
        </div>
        <Belongs type={type} state={state} tables={tables} fields={fields} currency={currency} />
        <button type="submit" className="btn btn-primary sm:mt-6.5" disabled={pending}>
          Add it
        </button>
      </div>
    </form>
  );
}

function Belongs({
  type,
  state,
  tables,
  fields,
  currency,
}: {
  type: string;
  state: FormState;
  tables: Named[];
  fields: Named[];
  currency: string;
}) {
  if (isRelation({ type })) return <Choose name="target" label="It points to" state={state} of={tables} />;
  if (isMadeFromAnother({ type })) return <Choose name="madeFrom" label="Made from" state={state} of={fields} />;
  if (hasChoices({ type }))
    return (
      <div className="w-full sm:w-64">
        <label className="field-label" htmlFor="choices">
          Its choices
        </label>
        <textarea id="choices" name="choices" rows={3} className="textarea w-full" placeholder="one on each line" />
      </div>
    );
  if (isMoney({ type })) return <Line name="currency" label="Currency" state={state} value={currency} className="w-28" />;
  if (hasDecimals({ type }))
    return <Line name="decimals" label="Digits after the point" state={state} value={isNumber({ type }) ? "0" : "1"} className="w-44" />;
  if (isCounted({ type }))
    return (
      <div className="grid gap-2">
        <Line name="prefix" label="Before the number" state={state} value="" className="w-44" />
        <Tick name="perCompany" on={false}>
          each company counts for itself
        </Tick>
      </div>
    );
  return null;
}

function Choose({ name, label, state, of }: { name: string; label: string; state: FormState; of: Named[] }) {
  return (
    <div className="w-full sm:w-52">
      <label className="field-label" htmlFor={name}>
        {label}
      </label>
      <select id={name} name={name} className="select w-full" defaultValue="">
        <option value="">choose…</option>
        {of.map((t) => (
          <option key={t.id} value={t.id}>
            {t.name}
          </option>
        ))}
      </select>
      <p className="field-error">{state.errors[name]}</p>
    </div>
  );
}
