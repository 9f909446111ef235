import type { StrandLedger } from '../api/client';
import type { Column, State } from '../timeline/skyline';

const STATES: Record<string, State> = {
  F: 'FRESH',
  S: 'STALE',
  M: 'MISSING',
  U: 'SUSPECT',
  K: 'KEPT',
  '?': 'UNKNOWN',
};

/** The columns of a strand's skyline, numbered by their place. */
export const columnsOf = (l: StrandLedger): Column[] =>
  l.seconds.map((seconds, i) => ({
    frame: i,
    state: STATES[l.states[i]!] ?? 'UNKNOWN',
    seconds: seconds || null,
  }));

/** How many frames of a strand, or of several, stand how. */
export type Counts = Record<'fresh' | 'stale' | 'missing' | 'suspect' | 'unknown', number>;

export function countsOf(all: StrandLedger[]): Counts {
  const sum = { fresh: 0, stale: 0, missing: 0, suspect: 0, unknown: 0 };
  for (const one of all) {
    const n = countsOfOne(one);
    for (const k of Object.keys(sum) as (keyof Counts)[]) {
      sum[k] += n[k];
    }
  }
  return sum;
}

/** Counts by what they are of: a board asks for them again and again. */
const COUNTED = new WeakMap<StrandLedger, Counts>();

function countsOfOne(one: StrandLedger): Counts {
  const before = COUNTED.get(one);
  if (before) {
    return before;
  }
  const n = { fresh: 0, stale: 0, missing: 0, suspect: 0, unknown: 0 };
  for (const letter of one.states) {
    if (letter === 'F' || letter === 'K') {
      n.fresh++;
    } else if (letter === 'S') {
      n.stale++;
    } else if (letter === 'M') {
      n.missing++;
    } else if (letter === 'U') {
      n.suspect++;
    } else {
      n.unknown++;
    }
  }
  COUNTED.set(one, n);
  return n;
}

/** Frames that a run would render. */
export const toRender = (n: Counts) => n.stale + n.missing + n.suspect + n.unknown;

/** Says how frames stand, such as `84 fresh · 12 stale`. */
export function countsText(n: Counts): string {
  const parts = (['fresh', 'stale', 'suspect', 'missing'] as const)
    .filter((k) => n[k] > 0)
    .map((k) => `${n[k]} ${k}`);
  return [...parts, ...(n.unknown ? [`${n.unknown} being compared`] : [])].join(' · ');
}
