import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useState } from 'react';
import { framePicture, type FrameLine, type RunStrand } from '../api/client';
import { useRunFrames, useProgress, useRunStrands } from '../api/queries';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { batchOf } from '../shell/batch';
import { useChooseRun, useCurrentRun } from '../shell/current';
import { doingText, duration, version } from '../shell/format';
import { playhead } from '../shell/playhead';
import { useInSight } from '../shell/useInSight';
import { Skyline } from '../timeline/Skyline';
import { InWork } from './InWork';
import { RunPanel } from './RunPanel';

export default function RunStation() {
  const runs = useRunStrands();
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
            A run renders all frames of the strands that are on, with their settings as they are
            then.
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
      <Frames key={run.id} run={run} all={batchOf(runs.data, run)} />
      <RunPanel run={run} all={batchOf(runs.data, run)} />
    </main>
  );
}

const failed = (task: { state: FrameLine['state'] }) => task.state === 'FAILED';

const STATES: Record<RunStrand['state'], string> = {
  RUNNING: 'running',
  PAUSED: 'paused',
  DONE: 'done',
  FAILED: 'frames failed',
  CANCELLED: 'cancelled',
};

/** Runs by what was started together, the newest first. */
function RunList({ runs, current }: { runs: RunStrand[]; current: RunStrand }) {
  const list = useInSight<HTMLElement>(current.id);
  const batches = [...new Set(runs.map((r) => r.run))].map((b) =>
    runs.filter((r) => r.run === b).sort((x, y) => x.id - y.id),
  );
  return (
    <nav ref={list} aria-label="Runs" className="overflow-auto border-r border-line px-4 py-3.5">
      <div className="mb-2 flex justify-between">
        <h2 className="font-[640]">Runs</h2>
        <span className="fig text-t3">{batches.length}</span>
      </div>
      <ul>
        {batches.map((b) => (
          <li
            key={b[0]!.run}
            className="border-b border-line pb-1 [contain-intrinsic-size:auto_74px] [content-visibility:auto]"
          >
            <h3 className="flex justify-between pt-2 text-xs text-t2">
              <span>
                Run <span className="fig">{b[0]!.run}</span>
              </span>
              <span className="fig">
                {b.reduce((n, r) => n + r.fresh, 0)} of {b.reduce((n, r) => n + r.total, 0)}
              </span>
            </h3>
            <ul>
              {b.map((r) => (
                <StrandOfRun key={r.id} run={r} current={current} />
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </nav>
  );
}

function StrandOfRun({ run, current }: { run: RunStrand; current: RunStrand }) {
  const choose = useChooseRun();
  const on = run.id === current.id;
  return (
    <li>
      <button className="block w-full py-1 text-left" aria-current={on} onClick={() => choose(run)}>
        <span className="flex justify-between gap-2">
          <span className={`truncate ${on ? 'font-semibold' : 'text-t2'}`}>
            {on && <i className="mr-2 inline-block h-2 w-2 rounded-full bg-mark" />}
            {run.shot}
          </span>
          <span className="fig">{version(run.number)}</span>
        </span>
        <span className="flex justify-between gap-2 text-xs text-t2">
          <span className="truncate">{run.layer}</span>
          <span>{run.bakes.some(failed) ? 'light failed' : STATES[run.state]}</span>
        </span>
      </button>
    </li>
  );
}

/** Height of a strand among the skylines, pixels. */
const STRAND = 30;

/** The skyline of each strand of a run, if there are several; those in sight, and a few more. */
function Skylines({ all, current }: { all: RunStrand[]; current: RunStrand }) {
  const choose = useChooseRun();
  const [scroll, setScroll] = useState<HTMLElement | null>(null);
  // What it returns is used here alone, and anew at each turn.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: all.length,
    getScrollElement: () => scroll,
    estimateSize: () => STRAND,
    overscan: 3,
  });
  const at = all.findIndex((r) => r.id === current.id);
  useEffect(() => {
    virtual.scrollToIndex(at, { align: 'auto' });
    // The strand that is chosen comes into sight, and nothing else moves the list.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at, scroll]);
  return (
    <div ref={setScroll} className="mb-3 max-h-44 shrink-0 overflow-auto border-b border-line pb-2">
      <ul
        aria-label="Strands of the run"
        className="relative"
        style={{ height: virtual.getTotalSize() }}
      >
        {virtual.getVirtualItems().map(({ index, start }) => {
          const r = all[index]!;
          return (
            <li key={r.id} className="absolute inset-x-0" style={{ top: start, height: STRAND }}>
              <button
                className={`grid h-full w-full grid-cols-[11rem_1fr_5rem] items-center gap-3 text-left ${r.id === current.id ? 'font-semibold' : 'text-t2'}`}
                aria-current={r.id === current.id}
                onClick={() => choose(r)}
              >
                <span className="truncate">
                  {r.id === current.id && (
                    <i className="mr-2 inline-block h-2 w-2 rounded-full bg-mark" />
                  )}
                  {r.shot} <span className="font-normal text-t2">{r.layer}</span>
                </span>
                <StrandSkyline run={r} />
                <span className="fig text-right font-normal">
                  {r.fresh} of {r.total}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

function StrandSkyline({ run }: { run: RunStrand }) {
  return <Skyline columns={useRunFrames(run.id).data?.lines ?? []} className="h-5 w-full" />;
}

/** What a frame took; one that was there, or is a copy, took nothing. */
const took = (seconds: number | null | undefined) => (seconds ? duration(seconds) : 'copied');

function Frames({ run, all }: { run: RunStrand; all: RunStrand[] }) {
  const frames = useRunFrames(run.id).data;
  const ledger = frames?.lines ?? [];
  const progress = useProgress();
  const choose = useChooseRun();
  const now = progress?.strandId === run.id ? progress : null;
  const seconds = new Map(ledger.map((l) => [l.frame, l.seconds]));
  const landed = frames?.newest ?? [];
  const failures = [
    ...run.bakes.filter(failed).map((b) => ({ what: 'Baked light', why: b.failure })),
    ...(frames?.failures ?? []).map((f) => ({
      what: `Frame ${f.frame}`,
      why: f.setAside ? f.text : `${f.text} It is tried again.`,
    })),
  ];
  const watch = (frame: number) => {
    playhead.to(frame);
    choose(run, { station: 'review' });
  };
  return (
    <section aria-label="Frames" className="flex min-h-0 flex-col bg-well px-5">
      <div className="flex h-10 shrink-0 items-center justify-between">
        <span className="font-semibold">
          {run.shot}{' '}
          <span className="font-normal text-t2">
            through {run.camera}, layer {run.layer}
          </span>{' '}
          <span className="fig font-normal text-t2">{version(run.number)}</span>
        </span>
        <span className="fig text-t2" data-testid="in-work">
          {now
            ? `${doingText(now)} · ${Math.round(now.fraction * 100)} % · ${duration(now.seconds)}`
            : run.state === 'RUNNING'
              ? run.bakes.some((b) => b.state === 'RENDERING')
                ? 'baking light'
                : 'waiting for the worker'
              : `${run.fresh} of ${run.total} frames finished`}
        </span>
      </div>
      {all.length > 1 && <Skylines all={all} current={run} />}
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
        {now && now.frame !== null && <InWork run={run} now={now} />}
        {landed.map((frame) => (
          <li
            key={frame}
            className="[contain-intrinsic-size:150px_110px] [content-visibility:auto]"
          >
            <button
              className="block w-full text-left"
              onClick={() => watch(frame)}
              title={`Look at frame ${frame} in Review`}
            >
              <img
                src={framePicture(run.id, frame, { most: 320 })}
                alt={`Frame ${frame}`}
                loading="lazy"
                className="w-full bg-bg"
                style={{ aspectRatio: `${run.width} / ${run.height}` }}
              />
              <span className="fig flex justify-between pt-0.5">
                <span>{frame}</span>
                <span className="text-t2">{took(seconds.get(frame))}</span>
              </span>
            </button>
          </li>
        ))}
        {landed.length === 0 && !now && (
          <li className="col-span-full text-t3">Finished frames appear here.</li>
        )}
      </ul>
    </section>
  );
}
