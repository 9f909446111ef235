import type { FrameLine } from '../api/client';

/** How a frame stands: in a run, or in the ledger. */
export type State = FrameLine['state'] | 'STALE' | 'MISSING' | 'SUSPECT' | 'KEPT' | 'UNKNOWN';

/** One column of a skyline. */
export type Column = {
  frame: number;
  state: State;
  /** Render time in seconds; null if there is none yet. */
  seconds: number | null;
};

export type Box = { x: number; y: number; width: number; height: number };
export type Palette = Record<'t1' | 't2' | 't3' | 'line' | 'bg' | 'mark' | 'bad' | 'up2', string>;

/** Column heights, 0 to 1: by render time, and the mean for frames that have none yet. */
export function heights(columns: Column[]): number[] {
  const known = columns.flatMap((c) => (c.seconds === null ? [] : [c.seconds]));
  const most = Math.max(1e-9, ...known);
  const mean = known.length ? known.reduce((a, b) => a + b, 0) / known.length / most : 0.6;
  return columns.map((c) => 0.12 + 0.88 * (c.seconds === null ? mean : c.seconds / most));
}

/**
 * Left edge and width of each column inside the box: by frame number over `first` to `last`, each
 * reaching to the next one.
 */
export function spans(columns: Column[], box: Box, first: number, last: number) {
  const unit = box.width / Math.max(1, last - first + 1);
  return columns.map((c, i) => {
    const next = columns[i + 1]?.frame ?? Math.min(last + 1, c.frame + gap(columns));
    return { x: box.x + (c.frame - first) * unit, width: Math.max(1, (next - c.frame) * unit) };
  });
}

function gap(columns: Column[]): number {
  const n = columns.length;
  return n > 1 ? columns[n - 1]!.frame - columns[n - 2]!.frame : 1;
}

/**
 * Draws states by shape and fill first: waiting or missing an outline, rendering a moving hatch,
 * fresh solid, stale solid with a notch, suspect dotted, failed a cross-hatch, left out a tick.
 */
export function drawSkyline(
  g: CanvasRenderingContext2D,
  columns: Column[],
  box: Box,
  first: number,
  last: number,
  colours: Palette,
  phase: number,
) {
  const tall = heights(columns);
  const places = spans(columns, box, first, last);
  columns.forEach((c, i) => {
    const { x, width } = places[i]!;
    const w = Math.max(1, width - (width > 3 ? 1 : 0.3));
    const h = Math.max(2, tall[i]! * box.height);
    const y = box.y + box.height - h;
    column(g, c.state, { x, y, width: w, height: h }, colours, phase);
  });
}

function column(
  g: CanvasRenderingContext2D,
  state: Column['state'],
  b: Box,
  colours: Palette,
  phase: number,
) {
  switch (state) {
    case 'FRESH':
      g.fillStyle = colours.t1;
      g.globalAlpha = 0.82;
      g.fillRect(b.x, b.y, b.width, b.height);
      g.globalAlpha = 1;
      break;
    case 'STALE':
    case 'KEPT':
      notched(g, b, state === 'KEPT' ? colours.t1 : colours.t2);
      break;
    case 'SUSPECT':
      dotted(g, b, colours.t1);
      break;
    case 'UNKNOWN':
      g.fillStyle = colours.t3;
      g.globalAlpha = 0.4;
      g.fillRect(b.x, b.y, b.width, b.height);
      g.globalAlpha = 1;
      break;
    case 'WAITING':
    case 'MISSING':
      if (b.width < 4) {
        // Outlines this close would look solid.
        g.fillStyle = colours.t3;
        g.fillRect(b.x, b.y, b.width, 1);
        break;
      }
      g.strokeStyle = colours.t3;
      g.lineWidth = 1;
      g.strokeRect(b.x + 0.5, b.y + 0.5, Math.max(0.5, b.width - 1), b.height - 1);
      break;
    case 'SKIPPED':
      g.fillStyle = colours.t3;
      g.fillRect(b.x, b.y + b.height - 2, b.width, 2);
      break;
    case 'RENDERING':
      hatch(g, b, colours.mark, [1], phase);
      break;
    case 'FAILED':
      hatch(g, b, colours.bad, [1, -1], 0);
  }
}

/** Solid, with a piece cut out of its top. */
function notched(g: CanvasRenderingContext2D, b: Box, colour: string) {
  const deep = Math.min(b.height * 0.5, 6);
  const wide = Math.max(1, b.width / 2);
  g.fillStyle = colour;
  g.globalAlpha = 0.82;
  g.fillRect(b.x, b.y, b.width - wide, b.height);
  g.fillRect(b.x + b.width - wide, b.y + deep, wide, b.height - deep);
  g.globalAlpha = 1;
}

function dotted(g: CanvasRenderingContext2D, b: Box, colour: string) {
  g.fillStyle = colour;
  for (let y = b.y; y < b.y + b.height; y += 3) {
    g.fillRect(b.x, y, b.width, 1.5);
  }
}

function hatch(
  g: CanvasRenderingContext2D,
  b: Box,
  colour: string,
  slopes: number[],
  phase: number,
) {
  g.save();
  g.beginPath();
  g.rect(b.x, b.y, b.width, b.height);
  g.clip();
  g.strokeStyle = colour;
  g.lineWidth = 1.5;
  g.strokeRect(b.x + 0.5, b.y + 0.5, Math.max(0.5, b.width - 1), b.height - 1);
  g.beginPath();
  const step = 5;
  for (const s of slopes) {
    for (let d = -b.height - step + (phase % step); d < b.width + b.height; d += step) {
      const from = s > 0 ? b.x + d : b.x + d + b.height;
      g.moveTo(from, b.y + b.height);
      g.lineTo(from + s * b.height, b.y);
    }
  }
  g.stroke();
  g.restore();
}

/** Reads the theme's colours off the page. */
export function palette(): Palette {
  const theme = document.documentElement.dataset.theme ?? '';
  const known = PALETTES.get(theme) ?? read();
  PALETTES.set(theme, known);
  return known;
}

/** By theme: each time they are read costs the page more than a skyline. */
const PALETTES = new Map<string, Palette>();

function read(): Palette {
  const style = getComputedStyle(document.documentElement);
  const names = ['t1', 't2', 't3', 'line', 'bg', 'mark', 'bad', 'up2'] as const;
  return Object.fromEntries(names.map((n) => [n, style.getPropertyValue(`--${n}`)])) as Palette;
}
