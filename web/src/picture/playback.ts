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

/**
 * Returns the frame number shown `seconds` after starting at `from`, in real time; with `loop` it
 * goes on at the in point, else it rests at the out point.
 */
export function frameAfter(t: Track, from: number, seconds: number, loop: boolean) {
  const length = t.out - t.in + 1;
  const steps = Math.floor(seconds * t.rate + 1e-6);
  const at = from - t.in + steps;
  if (at < length) {
    return { frame: from + steps, ended: false };
  }
  return loop ? { frame: t.in + (at % length), ended: false } : { frame: t.out, ended: true };
}

/** Returns the indices to load, most wanted first: on from the playhead, around the loop. */
export function loadOrder(count: number, at: number): number[] {
  return Array.from({ length: count }, (_, i) => (at + i) % count);
}
