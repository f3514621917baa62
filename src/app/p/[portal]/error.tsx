"use client";
import { useWords } from "@/ui/words";

export default function Failed({ reset }: { reset: () => void }) {
  const words = useWords();
  return (
    <div className="sheet mx-auto mt-10 max-w-md p-8" role="alert">
      <h1>{words["failed.title"]}</h1>
      <p className="quiet mt-2">{words["failed.lead"]}</p>
      <button type="button" className="btn btn-primary mt-5" onClick={reset}>
        {words["failed.again"]}
      </button>
    </div>
  );
}
