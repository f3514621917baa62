"use client";
/** A ZIP of the files that the table names: dropped beside it, sent in pieces, and taken away again. */
import { FileArchive, X } from "lucide-react";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { useDropzone } from "react-dropzone";
import { formatBytes } from "@/core/text/format";
import type { Archive } from "@/data/imports/reading/archive";
import { answered } from "@/ui/answered";
import { withoutFiles } from "../../imports";

interface Props {
  portal: string;
  at: string;
  importId: string;
  archive: Archive | null;
  locale: string;
}

const PIECE = 4 * 1024 * 1024;

export function FilesBeside({ portal, at, importId, archive, locale }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [sent, setSent] = useState<number | null>(null);
  const [name, setName] = useState("");
  const [error, setError] = useState<string | null>(null);
  const send = async (file: File): Promise<void> => {
    setError(null);
    setName(file.name);
    setSent(0);
    const { Upload } = await import("tus-js-client"); // only who sends files needs it
    new Upload(file, {
      endpoint: `${at}/data/import/${importId}/files`,
      chunkSize: PIECE,
      retryDelays: [0, 1000, 3000, 8000],
      metadata: { filename: file.name },
      onProgress: (n, all) => setSent(all > 0 ? n / all : 0),
      onError: (e) => {
        setSent(null);
        const body = "originalResponse" in e ? e.originalResponse?.getBody() : "";
        setError(body?.trim() || "The connection broke off. Drop the files again.");
      },
      onSuccess: () => {
        setSent(null);
        router.refresh();
      },
    }).start();
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files[0] && void send(files[0]),
    multiple: false,
    noClick: true,
    disabled: sent !== null,
  });
  const away = (): void =>
    start(async () => {
      if (await answered(withoutFiles(portal, importId))) router.refresh();
    });
  const there = archive?.files ? archive : null;
  return (
    <section
      {...getRootProps()}
      className={`sheet flex flex-wrap items-center gap-x-4 gap-y-2 px-5 py-4 ${isDragActive ? "border-primary! bg-base-200" : ""}`}
      aria-label="Files that the table names"
    >
      <FileArchive size={20} aria-hidden className="text-primary" />
      {sent !== null ? (
        <div className="min-w-0 grow" role="status">
          <p className="mb-1">{sent < 1 ? `Sending ${name}…` : `Looking through ${name}…`}</p>
          <progress
            className="progress progress-primary w-full max-w-sm"
            value={sent < 1 ? sent : undefined}
            max={1}
            aria-label="Progress"
          />
        </div>
      ) : there ? (
        <ArchiveThere there={there} locale={locale} away={away} busy={busy} />
      ) : (
        <>
          <p className="min-w-0 grow">
            Drop a ZIP archive with the files that the table names
            <span className="quiet block text-sm">A cell names a file, or several with semicolons between them. Up to 1 GB.</span>
          </p>
          <button type="button" className="btn btn-sm" onClick={open}>
            Choose an archive
          </button>
        </>
      )}
      <input {...getInputProps()} aria-label="ZIP archive with the files" accept=".zip,application/zip" />
      {error && (
        <p role="alert" className="alert alert-error w-full">
          {error}
        </p>
      )}
    </section>
  );
}

interface ArchiveThereProps {
  readonly there: Archive;
  readonly locale: string;
  readonly away: () => void;
  readonly busy: boolean;
}

/** The archive that has come. */
function ArchiveThere({ there, locale, away, busy }: ArchiveThereProps) {
  return (
    <>
      <p className="min-w-0 grow">
        <span className="font-medium">{there.name}</span>
        <span className="quiet">
          {" "}
          {there.files === 1 ? "one file" : `${there.files!.toLocaleString(locale)} files`}, {formatBytes(there.bytes, locale)}
        </span>
      </p>
      <button type="button" className="btn btn-ghost btn-sm" onClick={away} disabled={busy}>
        <X size={15} aria-hidden /> Take it away
      </button>
    </>
  );
}
