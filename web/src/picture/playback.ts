/** Where a sequence is played: its frames, rising, between the in and out points. */
export type Track = { frames: number[]; rate: number; in: number; out: number };

/** Returns the index of the last frame at or before `frame`, or the first. */
export function indexAt(frames: number[], frame: number): number {
  let lo = 0;
  let hi = frames.length - 1;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (frames[mid]! <= frame) {
      lo = mid;
    } else {
      hi = mid - 1;
    }
  }
  return lo;
}

/** What comes after the out point: nothing, the in point again, or the way back. */
export type Repeat = 'once' | 'loop' | 'bounce';

/**
 * Returns the frame number shown `seconds` after starting at `from`, in real time.
 *
 * @param way 1 if it starts forwards, -1 if on its way back
 */
export function frameAfter(
  t: Track,
  from: number,
  seconds: number,
  repeat: Repeat,
  way: 1 | -1 = 1,
) {
  const length = t.out - t.in + 1;
  const steps = Math.floor(seconds * t.rate + 1e-6);
  if (repeat === 'bounce') {
    const round = Math.max(1, 2 * (length - 1));
    const start = way > 0 ? from - t.in : round - (from - t.in);
    const at = (start + steps) % round;
    const back = at >= length;
    return {
      frame: t.in + (back ? round - at : at),
      ended: false,
      way: (back ? -1 : 1) as 1 | -1,
    };
  }
  const at = from - t.in + steps;
  if (at < length) {
    return { frame: from + steps, ended: false, way: 1 as const };
  }
  return repeat === 'loop'
    ? { frame: t.in + (at % length), ended: false, way: 1 as const }
    : { frame: t.out, ended: true, way: 1 as const };
}

/** Returns the indices to load, most wanted first: on from the playhead, around the loop. */
export function loadOrder(count: number, at: number): number[] {
  return Array.from({ length: count }, (_, i) => (at + i) % count);
}
