import { useState, type PointerEvent } from 'react';
import type { Fault, FootageCheck } from '../api/client';
import { useChecking, useVerdict } from '../api/review';
import { duration, framesText, percent } from '../shell/format';
import { useTell } from '../shell/Notices';
import { playhead, usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import type { Source } from './source';
import { useWho } from './who';

const KINDS: Record<Fault['kind'], string> = {
  MISSING: 'not there',
  DAMAGED: 'damaged',
  SIZE: 'another size',
  CHANNELS: 'other channels',
  BLACK: 'black',
  WHITE: 'white',
  UNCHANGED: 'unchanged',
  NOT_A_NUMBER: 'no number',
  NEGATIVE: 'negative',
  FIREFLY: 'fireflies',
  FLICKER: 'flicker',
  JUMP: 'jump',
  CLIPPED: 'clipped',
  PARTS: 'parts',
  HOLES: 'holes',
  FRINGE: 'fringe',
  NOISE: 'noise',
  BANDING: 'banding',
  RATE: 'frame rate',
  PADDING: 'file name',
  LEDGER: 'other files',
};

/** Findings that a list shows before it is asked for all. */
const SHOWN = 12;

/** A figure of each frame, and the findings that it tells of. */
type Figure = {
  name: string;
  values: number[];
  kinds: Fault['kind'][];
  text: (v: number) => string;
};

const figuresOf = (c: FootageCheck): Figure[] => [
  { name: 'Flicker', values: c.flicker, kinds: ['FLICKER'], text: fine },
  { name: 'Noise', values: c.noise, kinds: ['NOISE'], text: fine },
  { name: 'Fireflies', values: c.bright, kinds: ['FIREFLY'], text: String },
  {
    name: 'Light',
    values: c.light,
    kinds: ['BLACK', 'WHITE', 'CLIPPED'],
    text: (v) => v.toFixed(3),
  },
  { name: 'Change', values: c.change, kinds: ['JUMP', 'UNCHANGED'], text: percent },
];

const fine = (share: number) => `${(100 * share).toFixed(2)} %`;

/** Findings about files, not about what is in the pictures. */
const OF_FILES: Fault['kind'][] = [
  'MISSING',
  'DAMAGED',
  'SIZE',
  'CHANNELS',
  'RATE',
  'PADDING',
  'LEDGER',
];

function completeText(c: FootageCheck) {
  const odd = c.faults.filter((f) => OF_FILES.includes(f.kind) && isOpen(f));
  return odd.length === 0
    ? `${framesText(c.frames.length)}, none missing or odd`
    : `${odd.length} to look at below`;
}

const isOpen = (f: Fault) => f.word !== 'FINE';

/** What checks found: curves over the frames, and what somebody should look at, in words. */
export function Checks({
  source,
  check,
  error,
  onCheck,
  seconds,
}: {
  source: Source;
  check: FootageCheck | undefined;
  error: Error | null;
  /** Has it checked; undefined if that happens by itself. */
  onCheck: (() => void) | undefined;
  /** Seconds of each frame that was rendered. */
  seconds: Map<number, number>;
}) {
  const checking = useChecking(source.key);
  const frame = usePlayhead();
  const [all, setAll] = useState(false);
  const press = 'min-h-6 underline underline-offset-3';
  const open = check?.faults.filter(isOpen) ?? [];
  const shown = all ? check?.faults : check?.faults.slice(0, SHOWN);
  const more = (check?.faults.length ?? 0) - (shown?.length ?? 0);
  const own = check?.frames.map((f) => seconds.get(f) ?? NaN) ?? [];
  return (
    <section aria-label="Checks">
      {error && <p className="text-bad">{error.message}</p>}
      {checking && (
        <p className="text-t2" role="status">
          {checking.done} of {framesText(checking.total)} read …
        </p>
      )}
      {!check && !checking && !error && (
        <p className="text-t2">
          {onCheck ? (
            <>
              {source.run
                ? 'They are made when the strand is finished.'
                : 'Nobody has checked it yet.'}{' '}
              <button className={press} onClick={onCheck}>
                Check what is there
              </button>
            </>
          ) : (
            'The files are read …'
          )}
        </p>
      )}
      {check && (
        <>
          <p className="mb-1 text-t2" data-testid="checked">
            {framesText(check.frames.length)} checked:{' '}
            {open.length === 0 ? 'nothing to look at' : `${open.length} to look at`}
          </p>
          {figuresOf(check).map((f) => (
            <Curve key={f.name} figure={f} check={check} frame={frame} />
          ))}
          {own.some((v) => !Number.isNaN(v)) && (
            <Curve
              figure={{ name: 'Seconds', values: own, kinds: [], text: duration }}
              check={check}
              frame={frame}
            />
          )}
          <Row name="Complete">{completeText(check)}</Row>
          <Row name="Parts" hint="against beauty">
            {check.parts < 0 ? 'not all in the file' : `${fine(check.parts)} apart at most`}
          </Row>
          <ul className="mt-2">
            {shown?.map((f) => (
              <Finding key={`${f.kind} ${f.frames[0]}`} source={source} of={f} frame={frame} />
            ))}
          </ul>
          {more > 0 && (
            <button className={press} onClick={() => setAll(true)}>
              {more} more
            </button>
          )}
        </>
      )}
    </section>
  );
}

const WIDTH = 260;
const HEIGHT = 26;

/** A figure over the frames; a press goes to the frame. */
function Curve({ figure, check, frame }: { figure: Figure; check: FootageCheck; frame: number }) {
  const { values, name, text } = figure;
  const { frames } = check;
  const known = values.filter((v) => Number.isFinite(v));
  const most = Math.max(...known);
  const mean = known.reduce((a, b) => a + b, 0) / Math.max(1, known.length);
  const peak = frames[values.indexOf(most)];
  const first = frames[0]!;
  const span = Math.max(1, frames.at(-1)! - first);
  const x = (f: number) => ((f - first) / span) * WIDTH;
  const y = (v: number) => HEIGHT - 2 - (most > 0 ? (v / most) * (HEIGHT - 6) : 0);
  const line = frames
    .flatMap((f, i) =>
      Number.isFinite(values[i]) ? [`${x(f).toFixed(1)},${y(values[i]!).toFixed(1)}`] : [],
    )
    .join(' ');
  const marks = check.faults
    .filter((f) => figure.kinds.includes(f.kind) && isOpen(f))
    .flatMap((f) => f.frames);
  const to = (e: PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const asked = first + ((e.clientX - box.left) / box.width) * span;
    playhead.to(
      frames.reduce((a, b) => (Math.abs(b - asked) < Math.abs(a - asked) ? b : a), first),
    );
  };
  return (
    <div className="border-b border-line py-1.5" data-testid={`curve-${name}`}>
      <div className="flex items-baseline justify-between">
        <span>{name}</span>
        <span className="fig text-xs text-t2">
          {text(mean)} · most {text(most)} at {peak}
        </span>
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="mt-0.5 block h-6.5 w-full cursor-pointer overflow-visible"
        aria-hidden="true"
        onPointerDown={to}
        onPointerMove={(e) => e.buttons > 0 && to(e)}
      >
        <line
          x1={x(frame)}
          x2={x(frame)}
          y1={0}
          y2={HEIGHT}
          stroke="var(--mark)"
          vectorEffect="non-scaling-stroke"
        />
        <polyline
          points={line}
          fill="none"
          stroke="var(--t1)"
          strokeWidth="1.25"
          vectorEffect="non-scaling-stroke"
        />
        {marks.map((f, i) => (
          <path key={i} d={`M${x(f) - 4} 0h8l-4 6z`} fill="var(--mark)" />
        ))}
      </svg>
    </div>
  );
}

/** Something to look at, and what is said of it. */
function Finding({ source, of, frame }: { source: Source; of: Fault; frame: number }) {
  const verdict = useVerdict(source.key);
  const [who] = useWho();
  const tell = useTell();
  const [reason, setReason] = useState<string>();
  const first = of.frames[0]!;
  const here = of.frames.includes(frame);
  const say = (word: Fault['word'], why: string) =>
    verdict.mutate(
      { kind: of.kind, frame: first, word, reason: why, who },
      {
        onSuccess: () => setReason(undefined),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  const press = 'min-h-6 underline underline-offset-3 hover:text-t1';
  return (
    <li className="border-b border-line py-1">
      <button
        aria-current={here}
        className={`grid w-full grid-cols-[3rem_1fr] gap-2 text-left ${here ? 'text-t1' : 'text-t2 hover:text-t1'}`}
        onClick={() => playhead.to(first)}
      >
        <span className="fig">{first}</span>
        <span className={of.word === 'FINE' ? 'line-through' : ''}>
          <b>{KINDS[of.kind]}</b> <span className="text-xs">{of.text}</span>
        </span>
      </button>
      <div className="ml-14 flex flex-wrap gap-x-3 text-xs text-t2">
        {of.word !== null && (
          <span>
            {of.word === 'FINE' ? `fine: ${of.reason}` : 'wrong'}
            {of.who && ` (${of.who})`}
          </span>
        )}
        {here && reason === undefined && (
          <>
            {of.word !== 'FINE' && (
              <button className={press} onClick={() => setReason('')}>
                fine …
              </button>
            )}
            {of.word !== 'WRONG' && (
              <button className={press} onClick={() => say('WRONG', '')}>
                wrong
              </button>
            )}
            {of.word !== null && (
              <button className={press} onClick={() => say(null, '')}>
                take back
              </button>
            )}
          </>
        )}
        {here && reason !== undefined && (
          <form
            className="flex w-full gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              say('FINE', reason);
            }}
          >
            <input
              autoFocus
              aria-label="Why it is fine"
              placeholder="Why it is fine"
              className="min-w-0 flex-1 border-b border-t3 bg-transparent text-t1 focus:outline-none"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setReason(undefined)}
            />
            <button className={press}>keep</button>
          </form>
        )}
      </div>
    </li>
  );
}
