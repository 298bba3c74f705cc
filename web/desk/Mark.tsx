/** Our sign: a distance between two rules. */
export function Mark({ size = 18 }: { size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth={2}
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden
    >
      <path d="M4 4v16M20 4v16M4 12h16M8 8.5 4.5 12 8 15.5M16 8.5l3.5 3.5-3.5 3.5" />
    </svg>
  );
}
