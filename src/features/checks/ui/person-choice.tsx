/** The choice of a person and membership to look as. */
import { AutoSelect } from "@/ui/auto-submit";

export interface Choice {
  /** Person and membership, as `as` in addresses has them. */
  readonly as: string;
  readonly text: string;
}

export function PersonChoice({ label, value, choices }: { label: string; value: string; choices: readonly Choice[] }) {
  return (
    <>
      <label className="grid gap-1">
        <span className="field-label mb-0!">{label}</span>
        <AutoSelect key={value} name="as" defaultValue={value} className="select w-full min-w-72 md:min-w-md">
          {choices.map((c) => (
            <option key={c.as} value={c.as}>
              {c.text}
            </option>
          ))}
        </AutoSelect>
      </label>
      <noscript>
        <button type="submit" className="btn btn-sm">
          Show
        </button>
      </noscript>
    </>
  );
}
