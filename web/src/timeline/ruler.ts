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

/** Returns the frame under a place of the ribbon. */
export function frameAt(x: number, width: number, first: number, last: number): number {
  const f = first + Math.floor((x / Math.max(1, width)) * (last - first + 1));
  return Math.max(first, Math.min(last, f));
}
