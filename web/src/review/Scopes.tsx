import { useEffect, useRef } from 'react';
import { useBands } from '../api/review';
import type { Look } from '../api/client';
import { Row } from '../shell/Row';
import { valueText } from './LookBar';
import type { Under } from './useValues';

const BINS = 128;
const COLUMNS = 256;
const ROWS = 96;
const COLOURS = ['#ff6a6a', '#6ad46a', '#7aa2ff'];

/** Waits so long between two looks while it plays. */
const EVERY_MS = 150;

/** The part of a picture that can be seen where it is larger than its well. */
function inView(canvas: HTMLCanvasElement) {
  const well = canvas.parentElement!.getBoundingClientRect();
  const box = canvas.getBoundingClientRect();
  const k = canvas.width / box.width;
  const x = Math.max(0, well.left - box.left) * k;
  const y = Math.max(0, well.top - box.top) * k;
  const width = Math.min(canvas.width - x, well.width * k);
  const height = Math.min(canvas.height - y, well.height * k);
  return { x, y, width: Math.max(1, width), height: Math.max(1, height) };
}

/** The values in view, made smaller. */
function samples(canvas: HTMLCanvasElement): ImageData {
  const v = inView(canvas);
  const h = Math.max(1, Math.round((COLUMNS * v.height) / v.width));
  const g = new OffscreenCanvas(COLUMNS, h).getContext('2d', { willReadFrequently: true })!;
  // Single pixels, not means: what is clipped stays clipped.
  g.imageSmoothingEnabled = false;
  g.drawImage(canvas, v.x, v.y, v.width, v.height, 0, 0, COLUMNS, h);
  return g.getImageData(0, 0, COLUMNS, h);
}

function histogram(to: HTMLCanvasElement, of: ImageData) {
  const g = to.getContext('2d')!;
  const { width, height } = to;
  g.clearRect(0, 0, width, height);
  const counts = [0, 1, 2].map((c) => {
    const bins = new Array<number>(BINS).fill(0);
    for (let i = c; i < of.data.length; i += 4) {
      bins[(of.data[i]! * BINS) >> 8]!++;
    }
    return bins;
  });
  // What is all black or all white would hide everything else.
  const inner = counts.flatMap((b) => b.slice(1, -1));
  const most = Math.max(1, ...inner);
  g.globalCompositeOperation = 'lighten';
  counts.forEach((bins, c) => {
    g.strokeStyle = COLOURS[c]!;
    g.beginPath();
    bins.forEach((n, i) => {
      const y = height - 1 - Math.min(1, n / most) * (height - 2);
      g.lineTo(((i + 0.5) / BINS) * width, y);
    });
    g.stroke();
  });
}

function waveform(to: HTMLCanvasElement, of: ImageData) {
  const g = to.getContext('2d')!;
  const out = g.createImageData(COLUMNS, ROWS);
  const gain = 6000 / of.height;
  for (let y = 0; y < of.height; y++) {
    for (let x = 0; x < COLUMNS; x++) {
      const at = 4 * (y * COLUMNS + x);
      for (let c = 0; c < 3; c++) {
        const row = ROWS - 1 - Math.round((of.data[at + c]! / 255) * (ROWS - 1));
        const o = 4 * (row * COLUMNS + x);
        out.data[o + c] = Math.min(255, out.data[o + c]! + gain);
        out.data[o + 3] = 255;
      }
    }
  }
  g.clearRect(0, 0, COLUMNS, ROWS);
  g.putImageData(out, 0, 0);
}

/** Hears of pictures as they are painted. */
export type Painted = { listen: (h: (canvas: HTMLCanvasElement) => void) => () => void };

/** Histogram and waveform of what is in view, and what every pass holds under the pointer. */
export function Scopes({
  painted,
  under,
  look,
}: {
  painted: Painted;
  under: Under | undefined;
  look: Look;
}) {
  const bins = useRef<HTMLCanvasElement>(null);
  const wave = useRef<HTMLCanvasElement>(null);
  const bands = useBands();
  useEffect(() => {
    let wait: ReturnType<typeof setTimeout> | undefined;
    const stop = painted.listen((canvas) => {
      wait ??= setTimeout(() => {
        wait = undefined;
        if (bins.current && wave.current && canvas.width > 0) {
          const of = samples(canvas);
          histogram(bins.current, of);
          waveform(wave.current, of);
        }
      }, EVERY_MS);
    });
    return () => {
      clearTimeout(wait);
      stop();
    };
  }, [painted]);
  return (
    <section aria-label="Values">
      <h3 className="mb-1">
        Histogram <span className="text-t3">display values in view</span>
      </h3>
      <canvas
        ref={bins}
        width={COLUMNS}
        height={72}
        className="w-full bg-black"
        role="img"
        aria-label="Histogram"
      />
      <div className="fig flex justify-between text-xs text-t3">
        <span>0</span>
        <span>255</span>
      </div>
      <h3 className="mt-2 mb-1">
        Waveform <span className="text-t3">left to right as in the picture</span>
      </h3>
      <canvas
        ref={wave}
        width={COLUMNS}
        height={ROWS}
        className="w-full bg-black"
        role="img"
        aria-label="Waveform"
      />
      {look.view === 'BANDS' && bands && (
        <>
          <h3 className="mt-2 mb-1">
            Light <span className="text-t3">stops from middle grey</span>
          </h3>
          <ul className="fig flex flex-wrap gap-x-3 gap-y-1 text-xs text-t2">
            {bands.map((b, i) => (
              <li key={b.colour} className="flex items-center gap-1">
                <i className="size-3 border border-line" style={{ background: b.colour }} />
                {i === 0 ? `below ${bands[1]!.from}` : `from ${Number(b.from.toFixed(1))}`}
                {i === bands.length - 2 && ' (clipped)'}
              </li>
            ))}
          </ul>
        </>
      )}
      <h3 className="mt-3 mb-1">
        Under the pointer{' '}
        {under && (
          <span className="fig text-t3">
            x {under.x} y {under.y} px
          </span>
        )}
      </h3>
      {!under && <p className="text-t2">Point at the picture.</p>}
      {under?.shown && (
        <Row name="Display" hint="0 to 255">
          <span className="fig">{under.shown.join(' ')}</span>
        </Row>
      )}
      <dl className="text-xs">
        {under?.values.map((v) => (
          <div key={v.pass} className="flex justify-between gap-3 border-b border-line py-0.5">
            <dt className="text-t2">{v.pass}</dt>
            <dd className="fig text-right">{valueText(v)}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
