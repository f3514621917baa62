"use client";
/** Marks a record as read when it is opened, with a button to mark it as unread. */
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
