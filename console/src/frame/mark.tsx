/** The mark: three horizons and the one rule for today. */
export function Mark() {
  return (
    <svg viewBox="0 0 27 20" width="27" height="20" aria-hidden>
      <g className="stroke-accent" strokeWidth="2.5" strokeLinecap="round">
        <path d="M2 4h15M7 10h18M2 16h15" />
      </g>
      <path d="M20 1v18" className="stroke-ink" strokeWidth="2" />
    </svg>
  );
}
