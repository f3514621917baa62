"use client";
export default function Failed({ reset }: { reset: () => void }) {
  return (
    <div className="sheet mx-auto mt-10 max-w-md p-8" role="alert">
      <h1>Something went wrong on our side</h1>
      <p className="quiet mt-2">
        Look whether what you did was kept, then try once more. If it stays so, tell the agency what you were doing.
      </p>
      <button type="button" className="btn btn-primary mt-5" onClick={reset}>
        Try again
      </button>
    </div>
  );
}
