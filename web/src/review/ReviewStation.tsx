import { useMemo, useState } from 'react';
import { framePicture, type Channel, type RunStrand } from '../api/client';
import type { RunLine } from '../api/frames';
import { useRunFrames, useRunStrands } from '../api/queries';
import type { Track } from '../picture/playback';
import { PlayerCanvas } from '../picture/PlayerCanvas';
import type { PlayerReport } from '../picture/Player';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { useChooseRun, useCurrentRun } from '../shell/current';
import { version } from '../shell/format';
import { playhead, usePlayhead } from '../shell/playhead';
import { Channels } from './Channels';
import { ReviewPanel } from './ReviewPanel';
import { Transport } from './Transport';
import { useTransport } from './useTransport';

export default function ReviewStation() {
  const runs = useRunStrands().data;
  const current = useCurrentRun();
  const choose = useChooseRun();
  const go = useGo();
  const run = current ?? runs?.find((r) => r.fresh > 0);
  const ledger = useRunFrames(run?.id).data?.lines;
  if (!runs || (run && !ledger)) {
    return <main />;
  }
  const fresh = ledger?.filter((l) => l.state === 'FRESH') ?? [];
  if (!run || fresh.length === 0) {
    const other = runs.find((r) => r.fresh > 0);
    return (
      <main className="grid place-items-center bg-well">
        <div className="text-center">
          <p className="big mb-2">No finished frames yet</p>
          <p className="mb-5 text-t2">
            {run ? `${run.shot} ${version(run.number)}: frames` : 'Frames'} can be reviewed as soon
            as they are written.
          </p>
          <div className="flex justify-center gap-2.5">
            <Button main onClick={() => go({ station: run ? 'run' : 'shots' })}>
              {run ? 'Go to Run' : 'Go to Shots'}
            </Button>
            {other && (
              <Button onClick={() => choose(other)}>
                Review {other.shot} {version(other.number)}
              </Button>
            )}
          </div>
        </div>
      </main>
    );
  }
  return <Watching key={run.id} run={run} runs={runs} fresh={fresh} />;
}

function Watching({ run, runs, fresh }: { run: RunStrand; runs: RunStrand[]; fresh: RunLine[] }) {
  const frame = usePlayhead();
  const [channel, setChannel] = useState<Channel>('colour');
  const [report, setReport] = useState<PlayerReport>({ rate: null, dropped: 0, ready: 0 });
  const stamp = fresh.map((l) => l.frame).join();
  const frames = useMemo(() => stamp.split(',').map(Number), [stamp]);
  const transport = useTransport(frames);
  const { playing, loop, every, fit, stops, inPoint, outPoint } = transport.state;
  const track = useMemo<Track>(
    () => ({
      frames,
      rate: run.frameRate,
      in: inPoint ?? frames[0]!,
      out: outPoint ?? frames.at(-1)!,
    }),
    [frames, run.frameRate, inPoint, outPoint],
  );
  const most = fit ? 1280 : 16384;
  const urls = useMemo(
    () => frames.map((f) => framePicture(run.id, f, { channel, stops, most })),
    [frames, run.id, channel, stops, most],
  );
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px]">
      <section aria-label="Player" className="flex min-h-0 flex-col bg-well px-5">
        <Channels run={run} channel={channel} onChange={setChannel} />
        <PlayerCanvas
          model={{ track, urls, frame, playing, loop, every, fit }}
          onFrame={playhead.to}
          onEnded={() => transport.set({ playing: false })}
          onReport={setReport}
        />
        <Transport transport={transport} track={track} report={report} />
      </section>
      <ReviewPanel run={run} runs={runs} track={track} report={report} />
    </main>
  );
}
