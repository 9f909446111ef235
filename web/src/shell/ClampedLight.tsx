import type { RunStrand } from '../api/client';
import { percent, version } from './format';

/** Shares below this are not told apart. */
const LEAST = 0.0005;

/** What the clamp took of a run's light, where it took most. */
export function ClampedLight({ from }: { from: RunStrand }) {
  const share = from.shareCut ?? 0;
  return (
    <span title={`At most, in a frame of ${from.shot} ${version(from.number)}`}>
      clamped {share < LEAST ? 'less than 0.05 %' : percent(share)} of the light
    </span>
  );
}
