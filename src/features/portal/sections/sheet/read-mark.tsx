"use client";
/** Opened is read; it can be told to count as unread again. */
import { useEffect, useState } from "react";
import { keepRead } from "../../records/read-actions";

export function ReadMark({ table, record, words }: { table: string; record: string; words: { read: string; unread: string } }) {
  const [read, setRead] = useState(true);
  useEffect(() => {
    void keepRead(table, record, true).catch(() => {});
  }, [table, record]);
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm"
      aria-pressed={read}
      onClick={() => {
        setRead(!read);
        void keepRead(table, record, !read).catch(() => setRead(read));
      }}
    >
      {read ? words.read : words.unread}
    </button>
  );
}
