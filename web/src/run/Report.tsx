import { reportTable } from '../api/client';
import { useRunReport } from '../api/queries';
import { count, duration } from '../shell/format';
import { FindingText } from '../shell/FindingText';
import { Row } from '../shell/Row';

/** What has become of a run that is over. */
export function Report({ run }: { run: number }) {
  const r = useRunReport(run).data;
  if (!r) {
    return null;
  }
  const parts = [
    r.rendered > 0 && `${count(r.rendered)} rendered`,
    r.copied > 0 && `${count(r.copied)} copied`,
    r.failed > 0 && `${count(r.failed)} failed`,
    r.skipped > 0 && `${count(r.skipped)} left out`,
  ].filter(Boolean);
  return (
    <section aria-label="Report">
      <h3 className="mt-4 mb-1 font-[640]">Report of run {r.number}</h3>
      <Row name="Took" hint={`${duration(r.renderSeconds)} rendering`}>
        <span className="fig">{r.seconds === null ? '–' : duration(r.seconds)}</span>
      </Row>
      <Row name="Frames" hint={r.saved > 0 && `${count(r.saved)} were fresh`}>
        {parts.join(', ') || 'nothing to render'}
      </Row>
      {r.retries > 0 && (
        <Row name="Tried again">
          <span className="fig">{count(r.retries)}</span> {r.retries === 1 ? 'time' : 'times'}
        </Row>
      )}
      {r.slowest.length > 0 && (
        <Row name="Slowest">
          <ul>
            {r.slowest.map((s) => (
              <li key={`${s.shot} ${s.layer} ${s.frame}`} className="flex justify-between gap-2">
                <span className="truncate">
                  {s.shot} <span className="text-t2">{s.layer}</span>{' '}
                  <span className="fig">{s.frame}</span>
                </span>
                <span className="fig">{duration(s.seconds)}</span>
              </li>
            ))}
          </ul>
        </Row>
      )}
      {r.warnings.length > 0 && (
        <details className="mt-2">
          <summary className="min-h-6 text-t2">
            {r.warnings.length === 1
              ? 'A warning was accepted'
              : `${r.warnings.length} warnings were accepted`}
          </summary>
          <ul>
            {r.warnings.map((w) => (
              <li key={`${w.rule} ${w.shot} ${w.layer} ${w.text}`} className="py-1.5">
                <FindingText finding={w} />
              </li>
            ))}
          </ul>
        </details>
      )}
      <a
        className="mt-1 inline-block min-h-6 underline decoration-t3 underline-offset-3"
        href={reportTable(run)}
        download
      >
        Download as a table (CSV)
      </a>
    </section>
  );
}
