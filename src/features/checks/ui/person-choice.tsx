/** The choice of a person and membership to look as: a list while it is short, else a search. */
import { AutoSelect } from "@/ui/forms/auto-submit";
import { PersonSearch } from "./person-search";

export interface Choice {
  /** Person and membership, as `as` in addresses has them. */
  readonly as: string;
  readonly text: string;
}

const LONGEST_LIST = 200;

interface Props {
  label: string;
  value: string;
  choices: readonly Choice[];
  /** Address of the portal in the back office. */
  at: string;
}

export function PersonChoice({ label, value, choices, at }: Props) {
  if (choices.length > LONGEST_LIST)
    return (
      <PersonSearch
        label={label}
        value={value}
        text={choices.find((c) => c.as === value)?.text ?? "Nobody"}
        source={`${at}/people/named`}
      />
    );
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
