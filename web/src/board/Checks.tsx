import type { Finding } from '../api/client';
import { shotNow, useChangeShot, useChecks } from '../api/queries';
import type { StrandView } from '../api/strands';
import { useGo } from '../shell/address';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { Commands } from './Commands';

/** What is wrong with the strands that are on, with the way out where there is one. */
export function Checks({ strand, rows }: { strand: StrandView; rows: StrandView[][] }) {
  const found = useChecks().data;
  const errors = found?.filter((f) => f.severity === 'ERROR').length ?? 0;
  const warnings = (found?.length ?? 0) - errors;
  return (
    <Panel label="Before it starts" actions={<Commands strand={strand} rows={rows} />}>
      <p className="border-b border-line pb-2.5 text-t2">
        {!found
          ? 'being checked …'
          : found.length === 0
            ? 'Nothing is wrong that could be found.'
            : [counted(errors, 'error'), counted(warnings, 'warning')].filter(Boolean).join(', ')}
      </p>
      <ul aria-label="Findings">
        {found?.map((f) => (
          <Entry key={`${f.rule} ${f.shot} ${f.layer}`} finding={f} rows={rows} />
        ))}
      </ul>
    </Panel>
  );
}

export const counted = (n: number, what: string) => n > 0 && `${n} ${what}${n === 1 ? '' : 's'}`;

function Entry({ finding, rows }: { finding: Finding; rows: StrandView[][] }) {
  const change = useChangeShot();
  const go = useGo();
  const tell = useTell();
  const { shot, layer, frames } = finding;
  const of = rows.flat().find((v) => v.shot.name === shot)?.shot;
  const mend = () => {
    if (of && frames && shotNow(of.id)) {
      change.mutate(
        { id: of.id, part: { frames } },
        { onError: (e) => tell(e.message, { bad: true }) },
      );
    }
  };
  return (
    <li className="flex gap-2.5 border-b border-line py-2.5">
      <Sign severity={finding.severity} />
      <div className="min-w-0">
        {shot && (
          <button
            className="fig block max-w-full truncate text-left text-t2 hover:text-t1"
            title="Choose this strand"
            onClick={() => go({ station: 'board', shot, layer: layer ?? undefined })}
          >
            {shot} · {layer}
          </button>
        )}
        <p className="leading-4.5">{finding.text}</p>
        {of && frames && (
          <button
            className="min-h-6 underline decoration-t3 underline-offset-3 hover:text-t1"
            onClick={mend}
          >
            Take frames {frames}
          </button>
        )}
      </div>
    </li>
  );
}

/** A crossed square for an error, a dotted ring for a warning. */
function Sign({ severity }: { severity: Finding['severity'] }) {
  const error = severity === 'ERROR';
  return (
    <svg
      width="14"
      height="14"
      className={`mt-0.5 shrink-0 ${error ? 'text-bad' : ''}`}
      role="img"
      aria-label={error ? 'Error' : 'Warning'}
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
          r="6"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
          strokeDasharray="1.6 2"
        />
      )}
    </svg>
  );
}
