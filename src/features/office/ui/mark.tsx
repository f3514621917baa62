/** Elkhorn's mark: two branches from one stem. */
export function Mark({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden className="shrink-0">
      <rect width="32" height="32" rx="7" className="fill-primary" />
      <path
        d="M9 6v9a7 7 0 0 0 14 0V6M9 11H5M23 11h4M16 22v5"
        fill="none"
        className="stroke-primary-content"
        strokeWidth="2.6"
        strokeLinecap="round"
      />
    </svg>
  );
}
