/** What is not there between the first and the last frame, in words; undefined if nothing is. */
export function gapsText(frames: number[]): string | undefined {
  const steps = frames.slice(1).map((f, i) => f - frames[i]!);
  const step = Math.min(...steps);
  const gaps = steps.flatMap((d, i) =>
    d > step ? [[frames[i]! + step, frames[i + 1]! - step] as const] : [],
  );
  if (gaps.length === 0) {
    return undefined;
  }
  const words = gaps.slice(0, 3).map(([a, b]) => (a === b ? `${a}` : `${a} to ${b}`));
  const more = gaps.length > 3 ? ` and ${gaps.length - 3} more gaps` : '';
  return `Not there: ${words.join(', ')}${more}.`;
}
