"use client";
export function PrintButton() {
  return (
    <button type="button" className="btn btn-sm justify-self-start" onClick={() => window.print()}>
      Print the sheet
    </button>
  );
}
