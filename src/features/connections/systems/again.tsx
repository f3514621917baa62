"use client";
import { useRouter } from "next/navigation";
import { useEffect } from "react";

/** Shows the page anew every so many milliseconds, for as long as it stands on it. */
export function Again({ every }: { every: number }) {
  const router = useRouter();
  useEffect(() => {
    const timer = setInterval(() => router.refresh(), every);
    return () => clearInterval(timer);
  }, [router, every]);
  return null;
}
