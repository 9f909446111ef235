import { framePicture, type LedgerLine, type Run } from '../api/client';
import { useLedger, useProgress, useRuns } from '../api/queries';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { useChooseRun, useCurrentRun } from '../shell/current';
import { duration, version } from '../shell/format';
import { playhead } from '../shell/playhead';
import { useInSight } from '../shell/useInSight';
import { Skyline } from '../timeline/Skyline';
import { RunPanel } from './RunPanel';

export default function RunStation() {
  const runs = useRuns();
  const current = useCurrentRun();
  const run = current ?? runs.data?.[0];
  const go = useGo();
  if (!runs.data) {
    return <main />;
  }
  if (!run) {
    return (
      <main className="grid place-items-center bg-well">
        <div className="text-center">
          <p className="big mb-2">No runs yet</p>
          <p className="mb-5 text-t2">
            A run renders all frames of a shot with its settings as they are then.
          </p>
          <Button main onClick={() => go({ station: 'shots' })}>
            Go to Shots
          </Button>
        </div>
      </main>
    );
  }
  return (
    <main className="grid min-h-0 grid-cols-[216px_minmax(0,1fr)_300px]">
      <RunList runs={runs.data} current={run} />
      <Frames key={run.id} run={run} />
      <RunPanel run={run} />
    </main>
  );
}

const failed = (task: { state: LedgerLine['state'] }) => task.state === 'FAILED';

const STATES: Record<Run['state'], string> = {
  RUNNING: 'running',
  DONE: 'done',
  FAILED: 'frames failed',
  CANCELLED: 'cancelled',
};

function RunList({ runs, current }: { runs: Run[]; current: Run }) {
  const choose = useChooseRun();
  const list = useInSight<HTMLElement>(current.id);
  return (
    <nav ref={list} aria-label="Runs" className="overflow-auto border-r border-line px-4 py-3.5">
      <div className="mb-2 flex justify-between">
        <h2 className="font-[640]">Runs</h2>
        <span className="fig text-t3">{runs.length}</span>
      </div>
      <ul>
        {runs.map((r) => (
          <li
            key={r.id}
            className="border-b border-line [contain-intrinsic-size:auto_52px] [content-visibility:auto]"
          >
            <button
              className="block w-full py-2 text-left"
              aria-current={r.id === current.id}
              onClick={() => choose(r)}
            >
              <span className="flex justify-between gap-2">
                <span className={`truncate ${r.id === current.id ? 'font-semibold' : 'text-t2'}`}>
                  {r.id === current.id && (
                    <i className="mr-2 inline-block h-2 w-2 rounded-full bg-mark" />
                  )}
                  {r.shot}
                </span>
                <span className="fig">{version(r.number)}</span>
              </span>
              <span className="flex justify-between gap-2 text-xs text-t2">
                <span>{r.bakes.some(failed) ? 'light failed' : STATES[r.state]}</span>
                <span className="fig">
                  {r.fresh} of {r.total}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}

function Frames({ run }: { run: Run }) {
  const ledger = useLedger(run.id).data ?? [];
  const progress = useProgress();
  const choose = useChooseRun();
  const now = progress?.runId === run.id ? progress : null;
  const landed = ledger.filter((l) => l.state === 'FRESH');
  const failures = [
    ...run.bakes.filter(failed).map((b) => ({ what: 'Baked light', why: b.failure })),
    ...ledger.filter(failed).map((l) => ({ what: `Frame ${l.frame}`, why: l.failure })),
  ];
  const watch = (l: LedgerLine) => {
    playhead.to(l.frame);
    choose(run, { station: 'review' });
  };
  return (
    <section aria-label="Frames" className="flex min-h-0 flex-col bg-well px-5">
      <div className="flex h-10 shrink-0 items-center justify-between">
        <span className="font-semibold">
          {run.shot} <span className="fig font-normal text-t2">{version(run.number)}</span>
        </span>
        <span className="fig text-t2" data-testid="in-work">
          {now
            ? `${now.frame === null ? 'baking light' : `frame ${now.frame}`} · ${Math.round(now.fraction * 100)} % · ${duration(now.seconds)}`
            : run.state === 'RUNNING'
              ? run.bakes.some((b) => b.state === 'RENDERING')
                ? 'baking light'
                : 'waiting for the worker'
              : `${run.fresh} of ${run.total} frames finished`}
        </span>
      </div>
      <Skyline columns={ledger} className="h-28 w-full shrink-0 border-b border-line" />
      <div className="fig mt-1 mb-3 flex shrink-0 justify-between text-t3">
        <span>{ledger[0]?.frame}</span>
        <span>
          {run.secondsPerFrame !== null && `mean ${duration(run.secondsPerFrame)} a frame`}
        </span>
        <span>{ledger.at(-1)?.frame}</span>
      </div>
      {failures.length > 0 && (
        <ul className="mb-3 max-h-24 shrink-0 overflow-auto">
          {failures.map((f) => (
            <li key={f.what} className="py-0.5">
              <b className="text-bad">{f.what} failed.</b> {f.why}
            </li>
          ))}
        </ul>
      )}
      <ul
        className="grid min-h-0 flex-1 auto-rows-max grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-x-3 gap-y-2 overflow-auto pb-4"
        aria-label="Finished frames"
      >
        {landed.map((l) => (
          <li
            key={l.frame}
            className="[contain-intrinsic-size:150px_110px] [content-visibility:auto]"
          >
            <button
              className="block w-full text-left"
              onClick={() => watch(l)}
              title={`Look at frame ${l.frame} in Review`}
            >
              <img
                src={framePicture(run.id, l.frame, { most: 320, stamp: l.fingerprint })}
                alt={`Frame ${l.frame}`}
                loading="lazy"
                className="w-full bg-bg"
                style={{ aspectRatio: `${run.settings.width} / ${run.settings.height}` }}
              />
              <span className="fig flex justify-between pt-0.5">
                <span>{l.frame}</span>
                <span className="text-t2">{l.seconds !== null && duration(l.seconds)}</span>
              </span>
            </button>
          </li>
        ))}
        {landed.length === 0 && (
          <li className="col-span-full text-t3">Finished frames appear here.</li>
        )}
      </ul>
    </section>
  );
}
