"use client";
/** A choice in a filter form that sends the form when it changes; without JavaScript the button does. */
import type { SelectHTMLAttributes } from "react";

/** A choice that sends its form once it is made. */
export function AutoSelect(props: SelectHTMLAttributes<HTMLSelectElement>) {
  return <select {...props} onChange={(e) => e.currentTarget.form?.requestSubmit()} />;
}
