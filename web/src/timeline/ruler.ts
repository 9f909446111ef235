/** Returns the distance between labelled frames so that labels stay at least `room` pixels apart. */
export function rulerStep(frames: number, width: number, room = 60): number {
  const least = (frames * room) / Math.max(1, width);
  for (let decade = 1; ; decade *= 10) {
    for (const n of [1, 2, 5]) {
      if (n * decade >= least) {
        return n * decade;
      }
    }
  }
}

/** Pixels from the beginning of a span to its name. */
const INSET = 7;

/** Where the name of a span stands, and the pixels from and to that it takes with its span. */
export type Named = { at: number; from: number; to: number };

/** Returns where the current span's name stands: in it, or beside it where it is too short. */
export function currentName(x: number, width: number, text: number, end: number): Named {
  const room = text + 2 * INSET;
  if (room <= width) {
    return { at: x + INSET, from: x, to: x + width };
  }
  return x + width + room <= end
    ? { at: x + width + INSET, from: x, to: x + width + room }
    : { at: x - room + INSET, from: x - room, to: x + width };
}

/** Returns where the name of another span stands: beside what the current one takes. */
export function otherName(x: number, current?: Named): number {
  const at = x + INSET;
  return current && at >= current.from && at < current.to ? current.to + INSET : at;
}

/** Returns the frame under a place of the ribbon. */
export function frameAt(x: number, width: number, first: number, last: number): number {
  const f = first + Math.floor((x / Math.max(1, width)) * (last - first + 1));
  return Math.max(first, Math.min(last, f));
}
