import type { Finding } from '../api/client';

const SIGNS = { ERROR: 'Error', WARNING: 'Warning', NOTE: 'Note' };

/** A crossed square for an error, a dotted ring for a warning, a small plain one for a note. */
export function Sign({ severity }: { severity: Finding['severity'] }) {
  const error = severity === 'ERROR';
  const note = severity === 'NOTE';
  return (
    <svg
      width="14"
      height="14"
      className={`mt-0.5 shrink-0 ${error ? 'text-bad' : note ? 'text-t3' : ''}`}
      role="img"
      aria-label={SIGNS[severity]}
    >
      {error ? (
        <path
          d="M1 1h12v12H1zM3.5 3.5l7 7m0-7l-7 7"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
        />
      ) : (
        <circle
          cx="7"
          cy="7"
          r={note ? 3.5 : 6}
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
          strokeDasharray={note ? undefined : '1.6 2'}
        />
      )}
    </svg>
  );
}

/** The strand that a finding is about, and what it says. */
export function FindingText({ finding: { shot, layer, text, severity } }: { finding: Finding }) {
  return (
    <span className="flex gap-2.5">
      <Sign severity={severity} />
      <span className="min-w-0">
        {shot && (
          <span className="fig block truncate text-t2">
            {shot} {layer && `· ${layer}`}
          </span>
        )}
        <span className="block leading-4.5">{text}</span>
      </span>
    </span>
  );
}
