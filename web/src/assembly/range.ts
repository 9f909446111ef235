/** First and last frame of a range; steps are left out. */
export function ends(range: string): [number, number] {
  const n = [...range.matchAll(/(\d+)(?:\s*[x×]\s*\d+)?/g)].map((m) => Number(m[1]));
  return n.length ? [Math.min(...n), Math.max(...n)] : [1, 1];
}

/** How many frames a range has: `1-10x2,20` has 6. */
export function frameCount(range: string): number {
  return range
    .split(',')
    .map((part) => /^\s*(-?\d+)(?:\s*-\s*(-?\d+))?(?:\s*[x×]\s*(\d+))?\s*$/.exec(part))
    .reduce((n, m) => {
      if (!m) {
        return n;
      }
      const first = Number(m[1]);
      const last = Number(m[2] ?? m[1]);
      return n + Math.floor((last - first) / Number(m[3] ?? 1)) + 1;
    }, 0);
}

/** Every how manyth frame a range has; 1 if that is not the same everywhere. */
export function stepOf(range: string): number {
  const steps = new Set(range.split(',').map((p) => Number(/[x×]\s*(\d+)/.exec(p)?.[1] ?? 1)));
  return steps.size === 1 ? [...steps][0]! : 1;
}
