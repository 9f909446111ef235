import type { FrameLine, StrandFrames } from './client';

/** A frame of a strand of a run. */
export type RunLine = Pick<FrameLine, 'frame' | 'state' | 'seconds'>;

export type RunFrames = {
  lines: RunLine[];
  failures: StrandFrames['failures'];
  /** Frames that were finished last, the newest first. */
  newest: number[];
};

/** Finished frames that are kept in view. */
const NEWEST = 60;

const STATES: Record<string, FrameLine['state']> = {
  W: 'WAITING',
  R: 'RENDERING',
  F: 'FRESH',
  X: 'FAILED',
  '-': 'SKIPPED',
};

/** The frames of a range as the server writes it, such as `1-96x4,100`. */
export function framesOf(range: string): number[] {
  return range
    .split(',')
    .filter(Boolean)
    .flatMap((part) => {
      const [first = 0, last = first, step = 1] = part.split(/[-x]/).map(Number);
      return Array.from(
        { length: Math.floor((last - first) / step) + 1 },
        (_, i) => first + i * step,
      );
    });
}

export const runFrames = (s: StrandFrames): RunFrames => ({
  lines: framesOf(s.frames).map((frame, i) => ({
    frame,
    state: STATES[s.states[i]!] ?? 'WAITING',
    seconds: s.seconds[i] || null,
  })),
  failures: s.failures,
  newest: s.newest,
});

/** The same after one of the frames has changed. */
export function withLine(all: RunFrames, line: FrameLine): RunFrames {
  const others = all.failures.filter((f) => f.frame !== line.frame);
  return {
    lines: all.lines.map((l) => (l.frame === line.frame ? line : l)),
    failures: line.failure
      ? [
          ...others,
          {
            frame: line.frame,
            attempts: line.attempts,
            setAside: line.state === 'FAILED',
            text: line.failure,
          },
        ]
      : others,
    newest:
      line.state === 'FRESH'
        ? [line.frame, ...all.newest.filter((f) => f !== line.frame)].slice(0, NEWEST)
        : all.newest,
  };
}
