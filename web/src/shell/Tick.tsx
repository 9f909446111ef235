/** Marks what is chosen of a list of which any number may be: inside a `group` that is an option. */
export function Tick() {
  return (
    <svg width="12" height="12" className="mt-0.5 shrink-0" aria-hidden="true">
      <rect x="0.5" y="0.5" width="11" height="11" fill="none" stroke="var(--t3)" />
      <path
        d="M2.5 6l2.5 2.5L9.5 3.5"
        fill="none"
        stroke="var(--t1)"
        strokeWidth="1.5"
        className="opacity-0 group-data-selected:opacity-100"
      />
    </svg>
  );
}
