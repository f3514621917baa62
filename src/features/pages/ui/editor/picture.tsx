"use client";
/** A page as it is drawn, to be looked at. */
import { useState } from "react";
import { Preview } from "./preview";

export function Picture({ address, title }: { address: string; title: string }) {
  const [selected, setSelected] = useState<string | null>(null);
  return <Preview address={address} revision={0} width={1280} selected={selected} onSelect={setSelected} title={title} />;
}
