"use client";
/** Where a file is dropped or rows are pasted. What is wrong with it is said here, and the next file can be dropped at once. */
import { FileUp } from "lucide-react";
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState } from "react";
import { useDropzone } from "react-dropzone";

const MOST = 50 * 1024 * 1024;

/** Where a file is dropped or chosen for an import, with how far it has come. */
export function Drop({ at }: { at: string }) {
  const router = useRouter();
  const [error, setError] = useState<string | null>(null);
  const [sent, setSent] = useState<number | null>(null);
  const [name, setName] = useState("");
  const [pasted, setPasted] = useState("");

  const send = (file: File) => {
    setError(null);
    setName(file.name);
    if (file.size > MOST) {
      setError(`${file.name} is larger than 50 MB. Split it and import the parts one after the other.`);
      return;
    }
    if (file.size === 0) {
      setError(`${file.name} is empty.`);
      return;
    }
    // XMLHttpRequest, because fetch does not tell how much of an upload has gone out.
    const request = new XMLHttpRequest();
    request.open("POST", `${at}/data/import/upload`);
    request.setRequestHeader("x-file-name", encodeURIComponent(file.name));
    request.upload.onprogress = (e) => setSent(e.loaded / e.total);
    request.onload = () => {
      const answer = JSON.parse(request.responseText || "{}") as { id?: string; message?: string };
      setSent(null);
      if (answer.id) router.push(`${at}/data/import/${answer.id}`);
      else setError(answer.message ?? "The file did not arrive. Try again.");
    };
    request.onerror = () => {
      setSent(null);
      setError("The connection broke off. Nothing was imported; drop the file again.");
    };
    setSent(0);
    request.send(file);
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files[0] && send(files[0]),
    multiple: false,
    noClick: true,
  });
  return (
    <div
      {...getRootProps()}
      className={`sheet grid justify-items-center gap-3 border-dashed! px-6 py-14 text-center ${isDragActive ? "border-primary! bg-base-200" : ""}`}
    >
      <input {...getInputProps()} id="file" aria-label="File with a table" />
      <FileUp size={30} aria-hidden className="text-primary" />
      {sent === null ? (
        <DropOrPaste isDragActive={isDragActive} open={open} pasted={pasted} setPasted={setPasted} send={send} />
      ) : (
        <div className="w-full max-w-sm" role="status">
          <p className="mb-2">{sent < 1 ? `Sending ${name}…` : `Reading all of ${name}…`}</p>
          <progress className="progress progress-primary w-full" value={sent < 1 ? sent : undefined} max={1} aria-label="Progress" />
        </div>
      )}
      {error && (
        <p role="alert" className="alert alert-error max-w-prose">
          {error}
        </p>
      )}
    </div>
  );
}

interface DropOrPasteProps {
  readonly isDragActive: boolean;
  readonly open: () => void;
  readonly pasted: string;
  readonly setPasted: Dispatch<SetStateAction<string>>;
  readonly send: (file: File) => void;
}

/** A file, or pasted rows. */
function DropOrPaste({ isDragActive, open, pasted, setPasted, send }: DropOrPasteProps) {
  return (
    <>
      <p className="title text-lg font-semibold">{isDragActive ? "Let go to read it" : "Drop a table here"}</p>
      <button type="button" className="btn btn-primary" onClick={open}>
        Choose a file
      </button>
      <p className="quiet max-w-prose text-sm">
        A workbook (XLSX), CSV, tab-separated text or JSON lines, up to 50 MB. Nothing is brought in before you have seen what would happen.
      </p>
      <details className="w-full max-w-xl text-left">
        <summary className="link-plain cursor-pointer text-center">or paste rows from a spreadsheet</summary>
        <textarea
          aria-label="Pasted rows"
          className="textarea mt-3 w-full font-mono text-sm"
          rows={6}
          value={pasted}
          onChange={(e) => setPasted(e.target.value)}
        />
        <button
          type="button"
          className="btn btn-sm mt-2"
          disabled={pasted.trim() === ""}
          onClick={() => send(new File([pasted], "Pasted rows.tsv", { type: "text/tab-separated-values" }))}
        >
          Read these rows
        </button>
      </details>
    </>
  );
}
