import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';

/** A picture that is compared. */
export type Compared = {
  src: string;
  label: string;
  /** What is said of it beside its name. */
  note?: string;
};

const titleOf = ({ label, note }: Compared) => (note ? `${label}: ${note}` : label);

const MODES = ['wipe', 'side by side', 'flicker', 'difference'] as const;
type Mode = (typeof MODES)[number];

const GAINS = [1, 4, 16, 64];
const FLICKER_MS = 400;

/** Two pictures of the same, by wipe, side by side, in turn, or as their difference. */
export function Compare({ a, b, aspect }: { a: Compared; b: Compared; aspect: number }) {
  const [mode, setMode] = useState<Mode>('wipe');
  const [gain, setGain] = useState(4);
  const well = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setBox(e!.contentRect));
    watch.observe(well.current!);
    return () => watch.disconnect();
  }, []);
  const room = mode === 'side by side' ? (box.width - 12) / 2 : box.width;
  const width = Math.floor(Math.min(room, box.height * aspect));
  const size = { width, height: Math.floor(width / aspect) };
  const option = (on: boolean) =>
    `min-h-6 whitespace-nowrap ${on ? 'font-semibold' : 'text-t2 hover:text-t1'}`;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex h-9 shrink-0 items-center gap-4">
        <span className="min-w-0 truncate">
          <b>{a.label}</b> <span className="text-t2">against</span> <b>{b.label}</b>
        </span>
        <span className="ml-auto flex shrink-0 gap-4">
          {MODES.map((m) => (
            <button
              key={m}
              aria-pressed={m === mode}
              className={option(m === mode)}
              onClick={() => setMode(m)}
            >
              {m}
            </button>
          ))}
        </span>
        {mode === 'difference' && (
          <span className="fig flex shrink-0 gap-3 text-t2">
            {GAINS.map((g) => (
              <button
                key={g}
                aria-pressed={g === gain}
                aria-label={`difference ${g} times as bright`}
                className={option(g === gain)}
                onClick={() => setGain(g)}
              >
                × {g}
              </button>
            ))}
          </span>
        )}
      </div>
      <div ref={well} className="grid min-h-0 flex-1 place-items-center overflow-hidden">
        {mode === 'wipe' && <Wipe a={a} b={b} size={size} />}
        {mode === 'side by side' && (
          <div className="flex gap-3">
            {[a, b].map((p, i) => (
              <figure key={i}>
                <Picture of={p} size={size} />
                <figcaption className="mt-1 text-t2">{titleOf(p)}</figcaption>
              </figure>
            ))}
          </div>
        )}
        {mode === 'flicker' && <Flicker a={a} b={b} size={size} />}
        {mode === 'difference' && (
          <div
            data-testid="difference"
            className="relative isolate bg-black"
            style={{ ...size, filter: `brightness(${gain})` }}
          >
            <Picture of={a} size={size} />
            <div className="absolute inset-0 mix-blend-difference">
              <Picture of={b} size={size} />
            </div>
          </div>
        )}
      </div>
    </div>
  );
}

type Size = { width: number; height: number };

function Picture({ of, size }: { of: Compared; size: Size }) {
  return (
    <img
      src={of.src}
      alt={of.label}
      draggable={false}
      style={{ ...size, maxWidth: 'none', imageRendering: 'pixelated' }}
    />
  );
}

function Flicker({ a, b, size }: { a: Compared; b: Compared; size: Size }) {
  const [second, setSecond] = useState(false);
  useEffect(() => {
    const turn = setInterval(() => setSecond((s) => !s), FLICKER_MS);
    return () => clearInterval(turn);
  }, []);
  const shown = second ? b : a;
  return (
    <figure className="relative">
      <Picture of={a} size={size} />
      {second && (
        <div className="absolute inset-0">
          <Picture of={b} size={size} />
        </div>
      )}
      <figcaption className="absolute bottom-1 left-1 bg-black/70 px-1.5 text-white">
        {shown.label}
      </figcaption>
    </figure>
  );
}

const STEP = 0.02;

/** The first picture left of a line that is moved, the second right of it. */
function Wipe({ a, b, size }: { a: Compared; b: Compared; size: Size }) {
  const [at, setAt] = useState(0.5);
  const move = (e: PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    setAt(Math.min(1, Math.max(0, (e.clientX - box.left) / box.width)));
  };
  const key = (e: KeyboardEvent) => {
    const way = { ArrowLeft: -STEP, ArrowRight: STEP }[e.key];
    if (way) {
      e.preventDefault();
      e.stopPropagation();
      setAt((x) => Math.min(1, Math.max(0, x + way)));
    }
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Wipe between ${a.label} and ${b.label}`}
      aria-valuenow={Math.round(100 * at)}
      aria-valuetext={`${Math.round(100 * at)} % ${a.label}`}
      className="relative cursor-ew-resize touch-none"
      style={size}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        move(e);
      }}
      onPointerMove={(e) => e.buttons > 0 && move(e)}
      onKeyDown={key}
    >
      <Picture of={b} size={size} />
      <div className="absolute inset-0" style={{ clipPath: `inset(0 ${100 * (1 - at)}% 0 0)` }}>
        <Picture of={a} size={size} />
      </div>
      <i
        className="pointer-events-none absolute inset-y-0 w-0.5 -translate-x-1/2 bg-white mix-blend-difference"
        style={{ left: `${100 * at}%` }}
      />
      <span className="absolute bottom-1 left-1 bg-black/70 px-1.5 text-white">{titleOf(a)}</span>
      <span className="absolute right-1 bottom-1 bg-black/70 px-1.5 text-white">{titleOf(b)}</span>
    </div>
  );
}
