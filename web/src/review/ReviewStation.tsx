import { useEffect, useMemo, useRef, useState } from 'react';
import { AS_DELIVERED, footagePicture, PROXY, type Look, type Part } from '../api/client';
import { useRunFrames, useRunStrands } from '../api/queries';
import { useFootageCheck, useOpenFindings, useRemarks } from '../api/review';
import type { Track } from '../picture/playback';
import type { PlayerReport, Together } from '../picture/Player';
import { PlayerCanvas, type Point } from '../picture/PlayerCanvas';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useChooseRun, useCurrentRun } from '../shell/current';
import { percent, version } from '../shell/format';
import { useKeys } from '../shell/keys';
import { playhead, usePlayhead } from '../shell/playhead';
import { ribbon } from '../shell/ribbon';
import { againstOf, useAgainst } from './against';
import { Checks } from './Checks';
import { Decision } from './Decision';
import { LookBar, type Guides } from './LookBar';
import { Notes } from './Notes';
import { OpenSequence } from './OpenSequence';
import { Overlay } from './Overlay';
import { ReviewPanel, useTab } from './ReviewPanel';
import { Scopes } from './Scopes';
import { SendBack } from './SendBack';
import { SequenceRows } from './SequenceRows';
import { ended, FILM, useSource, type Source } from './source';
import { Transport } from './Transport';
import { useTransport } from './useTransport';
import { useValues } from './useValues';

export default function ReviewStation() {
  const source = useSource();
  const place = usePlace();
  const go = useGo();
  const run = source?.run;
  const open = !!run && place?.version === undefined && place?.run === undefined;
  // A version that is started meanwhile must not come between a lead and what is looked at.
  useEffect(() => {
    if (open) {
      const { shot, layer, number, run: of } = run;
      go({ shot, layer, version: number, run: of }, { replace: true });
    }
  }, [open, run, go]);
  if (source === undefined) {
    return <main />;
  }
  return source ? <Watching key={source.key} source={source} /> : <Nothing />;
}

function Nothing() {
  const runs = useRunStrands().data ?? [];
  const run = useCurrentRun();
  const choose = useChooseRun();
  const go = useGo();
  const [opening, setOpening] = useState(false);
  const other = runs.find((r) => r.fresh > 0);
  return (
    <main className="grid place-items-center bg-well">
      <div className="text-center">
        <p className="big mb-2">No finished frames yet</p>
        <p className="mb-5 text-t2">
          {run ? `${run.shot} ${version(run.number)}: frames` : 'Frames'} can be reviewed as soon as
          they are written; sequences from elsewhere at once.
        </p>
        <div className="flex justify-center gap-2.5">
          <Button main onClick={() => go({ station: run ? 'run' : 'shots' })}>
            {run ? 'Go to Run' : 'Go to Shots'}
          </Button>
          {other && (
            <Button onClick={() => choose(other, { footage: undefined, against: undefined })}>
              Review {other.shot} {version(other.number)}
            </Button>
          )}
          <Button onClick={() => setOpening(true)}>Open a sequence …</Button>
        </div>
      </div>
      {opening && <OpenSequence onClose={() => setOpening(false)} />}
    </main>
  );
}

const NO_REPORT: PlayerReport = {
  rate: null,
  dropped: 0,
  cached: [],
  bytes: 0,
  most: 0,
  failed: false,
  apart: null,
};

const MODES: Together[] = ['wipe', 'side by side', 'flicker', 'difference'];
const GAINS = [1, 4, 16, 64];

/** Passes that stand in the open; the others are in a list. */
const IN_THE_OPEN = 4;

/** Longest side of a picture that is looked at pixel for pixel. */
const WHOLE = 16384;

function Watching({ source }: { source: Source }) {
  const frame = usePlayhead();
  const { run } = source;
  const [said, setLook] = useState<Look>(AS_DELIVERED);
  const [report, setReport] = useState<PlayerReport>(NO_REPORT);
  const [guides, setGuides] = useState<Guides>({ safe: false, burn: false });
  const [together, setTogether] = useState({ mode: 'wipe' as Together, split: 0.5, gain: 4 });
  const [tab, setTab] = useTab();
  const [box, setBox] = useState<Part>();
  const [drawing, setDrawing] = useState(false);
  const [only, setOnly] = useState<number[]>();
  const [clean, setClean] = useState(false);
  const [point, setPoint] = useState<Point>();
  const [asked, setAsked] = useState(false);
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  const player = useRef<HTMLElement>(null);
  const go = useGo();
  const frames = useMemo(
    () => (only ? source.frames.filter((f) => only.includes(f)) : source.frames),
    [source.frames, only],
  );
  const transport = useTransport(frames);
  const { playing, repeat, every, zoom, stops, inPoint, outPoint } = transport.state;
  const pass = source.passes.some((p) => p.name === said.pass) ? said.pass : AS_DELIVERED.pass;
  const look = useMemo(() => ({ ...said, pass, stops }), [said, pass, stops]);
  const most = zoom ? WHOLE : PROXY;
  const track = useMemo<Track>(
    () => ({
      frames,
      rate: source.rate,
      in: inPoint ?? frames[0]!,
      out: outPoint ?? frames.at(-1)!,
    }),
    [frames, source.rate, inPoint, outPoint],
  );
  const { at } = source;
  const urls = useMemo(
    () =>
      frames.map((f) => {
        const of = at(f);
        return footagePicture(of.key, of.frame, { ...look, most });
      }),
    // `at` is new whenever anything about the source is.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [frames, source.key, source.segments, look, most],
  );
  const other = useAgainst(source, look, most);
  const against = useMemo(
    () =>
      other.urls && {
        urls: only ? other.urls.filter((_, i) => only.includes(source.frames[i]!)) : other.urls,
        ...together,
      },
    [other.urls, only, source.frames, together],
  );
  // What was checked once is known at once, or checked again if its files have changed.
  const known = useOpenFindings()?.some((c) => c.key === source.key) ?? false;
  const on = asked || (run ? ended(run) : known);
  const check = useFootageCheck(
    source.key === FILM ? undefined : source.key,
    run ? `${run.fresh} ${run.state}` : String(source.frames.length),
    on,
  );
  const remarks = useRemarks();
  const here = source.at(frame);
  const noted = remarks.filter((r) => r.footage === here.key && r.frame === here.frame && !r.done);
  const faults = check.data?.faults.filter((f) => f.word !== 'FINE') ?? [];
  const wrong = faults.filter((f) => f.word === 'WRONG');
  const lines = useRunFrames(run?.id).data?.lines;
  const seconds = useMemo(
    () => new Map(lines?.flatMap((l) => (l.seconds === null ? [] : [[l.frame, l.seconds]]))),
    [lines],
  );
  const under = useValues(source, frame, playing ? undefined : point, canvas);
  const painted = usePainted();

  const cachedText = JSON.stringify(stretches(frames, report.cached));
  const marksText = [
    ...new Set([
      ...faults.flatMap((f) => f.frames),
      ...remarks.filter((r) => r.footage === source.key && !r.done).map((r) => r.frame),
    ]),
  ].join();
  useEffect(() => {
    const numbers = (text: string) => (text ? text.split(',').map(Number) : []);
    ribbon.put({
      spans:
        source.segments?.map(({ shot, first, frames: f }) => ({
          id: shot.id,
          name: shot.name,
          first,
          last: first + f.length - 1,
        })) ??
        (source.sequence
          ? [
              {
                id: 0,
                name: source.title,
                first: source.frames[0]!,
                last: source.frames.at(-1)!,
              },
            ]
          : null),
      cached: JSON.parse(cachedText) as [number, number][],
      marks: numbers(marksText),
    });
  }, [source, cachedText, marksText]);
  useEffect(() => () => ribbon.clear(), []);

  useKeys((e) => {
    const keys: Record<string, () => void> = {
      b: () => setDrawing(!drawing),
      n: () => setTab('Notes'),
      p: () => setClean(!clean),
      Escape: () => {
        setClean(false);
        setDrawing(false);
      },
    };
    keys[e.key]?.();
    return e.key in keys;
  });

  const names: [string, string] = [source.detail, other.name ?? ''];
  const draw = () => setDrawing(!drawing);
  const shell = clean ? 'fixed inset-0 z-30 bg-black' : 'bg-well px-5';
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px]">
      <section ref={player} aria-label="Player" className={`flex min-h-0 flex-col ${shell}`}>
        {!clean && (
          <header className="flex h-10 shrink-0 items-center gap-4">
            <span className="min-w-0 truncate font-semibold">{source.title}</span>
            <span className="fig whitespace-nowrap text-t2">{source.detail}</span>
            {run && <span className="truncate text-t2">through {run.camera}</span>}
            {source.key !== FILM && (
              <span className="flex items-center gap-1.5 text-t2">
                against
                <Choice
                  label="Against"
                  value={other.value}
                  options={other.options}
                  onChange={(v) => {
                    go({ against: againstOf(v) });
                    // A snapshot is of one frame.
                    const of = other.frameOf(v);
                    if (of !== undefined) {
                      playhead.to(of);
                    }
                  }}
                />
              </span>
            )}
            <span className="flex-1" />
            <Passes source={source} pass={pass} onPass={(p) => setLook({ ...said, pass: p })} />
          </header>
        )}
        {against && !clean && (
          <div className="flex h-8 shrink-0 items-center gap-4 text-t2">
            {MODES.map((m) => (
              <button
                key={m}
                aria-pressed={m === together.mode}
                className={`min-h-6 ${m === together.mode ? 'font-semibold text-t1' : 'hover:text-t1'}`}
                onClick={() => setTogether({ ...together, mode: m })}
              >
                {m}
              </button>
            ))}
            {together.mode === 'difference' &&
              GAINS.map((g) => (
                <button
                  key={g}
                  aria-pressed={g === together.gain}
                  aria-label={`difference ${g} times as bright`}
                  className={`fig min-h-6 ${g === together.gain ? 'text-t1' : 'hover:text-t1'}`}
                  onClick={() => setTogether({ ...together, gain: g })}
                >
                  × {g}
                </button>
              ))}
            <span className="flex-1" />
            <span className="fig" data-testid="apart">
              {report.apart === null
                ? 'no picture of this frame to compare'
                : `${fine(report.apart)} of white apart`}
            </span>
          </div>
        )}
        <div className="relative flex min-h-0 flex-1 flex-col">
          <PlayerCanvas
            model={{ track, urls, frame, playing, repeat, every, zoom, against }}
            onFrame={playhead.to}
            onEnded={() => transport.set({ playing: false })}
            onReport={setReport}
            onPoint={setPoint}
            onSeen={(c) => {
              setCanvas(c);
              painted.tell(c);
            }}
            overlay={
              !clean && (
                <Overlay
                  source={source}
                  frame={frame}
                  faults={
                    playing ? [] : faults.filter((f) => f.width > 0 && f.frames.includes(frame))
                  }
                  remarks={playing ? [] : noted}
                  box={box}
                  drawing={drawing}
                  onBox={(b) => {
                    setBox(b);
                    setDrawing(false);
                  }}
                  guides={guides}
                  wipe={
                    against && {
                      ...together,
                      onSplit: (split) => setTogether({ ...together, split }),
                    }
                  }
                  names={against && names}
                />
              )
            }
          />
          {report.failed && (
            <p role="alert" className="absolute inset-x-0 top-1/2 text-center text-t1">
              <span className="bg-well px-3 py-1">
                Frame {here.frame} cannot be shown: its file is damaged, or has none of this.
              </span>
            </p>
          )}
        </div>
        {!clean && (
          <>
            <div className="flex items-center gap-4">
              <div className="min-w-0 flex-1">
                <Transport transport={transport} track={track} report={report} />
              </div>
              <button
                className="min-h-6 text-t2 hover:text-t1"
                title="Nothing but the picture (P); Escape comes back"
                onClick={() => setClean(true)}
              >
                Picture only
              </button>
              <button
                className="min-h-6 text-t2 hover:text-t1"
                onClick={() =>
                  void (document.fullscreenElement
                    ? document.exitFullscreen()
                    : player.current?.requestFullscreen())
                }
              >
                Full screen
              </button>
            </div>
            <LookBar
              look={look}
              onLook={(part) => setLook({ ...said, ...part })}
              transport={transport}
              guides={guides}
              onGuides={setGuides}
              under={under}
            />
          </>
        )}
      </section>
      <ReviewPanel
        tab={tab}
        onTab={setTab}
        counts={{
          Checks: faults.length,
          Notes: remarks.filter((r) => r.footage === source.key && !r.done).length,
        }}
        content={{
          Checks:
            source.key === FILM ? undefined : (
              <Checks
                source={source}
                check={check.data}
                error={check.error}
                onCheck={on ? undefined : () => setAsked(true)}
                seconds={seconds}
              />
            ),
          Notes: (
            <Notes
              source={source}
              box={box}
              drawing={drawing}
              onDraw={draw}
              onDone={() => setBox(undefined)}
            />
          ),
          Values: <Scopes painted={painted} under={under} look={look} />,
          Again:
            run && run.shotId !== null && run.layerId !== null ? (
              <SendBack
                source={source}
                wrong={wrong}
                box={box}
                drawing={drawing}
                onDraw={draw}
                onForget={() => setBox(undefined)}
                inOut={(inPoint ?? outPoint) === undefined ? undefined : rangeOf(frames, track)}
              />
            ) : undefined,
          Sequence: <SequenceRows source={source} report={report} />,
        }}
        decision={
          run && <Decision source={source} main={tab !== 'Again'} only={only} onOnly={setOnly} />
        }
      />
    </main>
  );
}

const fine = (share: number) => (share < 0.001 ? `${(100 * share).toFixed(2)} %` : percent(share));

/** Frames that follow each other in a sequence: the first of each stretch, and the one after it. */
function stretches(frames: number[], some: number[]): [number, number][] {
  const all: [number, number][] = [];
  const there = new Set(some);
  frames.forEach((f, i) => {
    const next = frames[i + 1] ?? f + (i > 0 ? f - frames[i - 1]! : 1);
    const last = all.at(-1);
    if (there.has(f) && last?.[1] === f) {
      last[1] = next;
    } else if (there.has(f)) {
      all.push([f, next]);
    }
  });
  return all;
}

/** The frames between the in and out points, as a range. */
const rangeOf = (frames: number[], { in: first, out: last }: Track) => {
  const inside = frames.filter((f) => f >= first && f <= last);
  const whole = inside.length === last - first + 1;
  return whole ? (first === last ? String(first) : `${first}-${last}`) : inside.join(',');
};

/** Passes of the file: some in the open, the others in a list. */
function Passes({
  source,
  pass,
  onPass,
}: {
  source: Source;
  pass: string;
  onPass: (p: string) => void;
}) {
  const { passes } = source;
  const open = passes.slice(0, passes.length > IN_THE_OPEN + 1 ? IN_THE_OPEN : passes.length);
  const rest = passes.slice(open.length);
  return (
    <span className="flex items-center gap-4">
      <span role="radiogroup" aria-label="Pass" className="flex gap-4">
        {open.map((p) => (
          <button
            key={p.name}
            role="radio"
            aria-checked={p.name === pass}
            className={`min-h-6 whitespace-nowrap ${p.name === pass ? 'underline decoration-mark decoration-2 underline-offset-4' : 'text-t2 hover:text-t1'}`}
            onClick={() => onPass(p.name)}
          >
            {p.name}
          </button>
        ))}
      </span>
      {rest.length > 0 && (
        <Choice
          label="Pass"
          value={rest.some((p) => p.name === pass) ? pass : ''}
          shown={rest.some((p) => p.name === pass) ? pass : `${rest.length} more`}
          options={rest.map((p) => ({ value: p.name, label: p.name }))}
          onChange={onPass}
        />
      )}
    </span>
  );
}

/** Passes the word on that a picture was painted. */
function usePainted() {
  const [painted] = useState(() => {
    const heard = new Set<(c: HTMLCanvasElement) => void>();
    let last: HTMLCanvasElement | undefined;
    return {
      tell(c: HTMLCanvasElement) {
        last = c;
        heard.forEach((h) => h(c));
      },
      listen(h: (c: HTMLCanvasElement) => void) {
        heard.add(h);
        if (last) {
          h(last);
        }
        return () => void heard.delete(h);
      },
    };
  });
  return painted;
}
