/** What a form's action answered over the whole of it. */
import type { FormState } from "./forms/form";

/** What a form answered. */
export function Told({ state }: { state: FormState }) {
  if (state.done)
    return (
      <p role="status" className="alert">
        {state.done}
      </p>
    );
  return state.message ? (
    <div role="alert" className="alert alert-error">
      {state.message}
    </div>
  ) : null;
}
