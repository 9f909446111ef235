import type { Run } from '../api/client';
import { percent, version } from './format';

/** Less than that is as good as nothing. */
const LEAST = 0.0005;

/** What the limit on bright indirect light took of a run's light, where it took most. */
export function TookLight({ from }: { from: Run }) {
  const share = from.shareCut ?? 0;
  return (
    <span title={`At most, in a frame of ${from.shot} ${version(from.number)}`}>
      took {share < LEAST ? 'next to nothing' : `${percent(share)} of the light`}
    </span>
  );
}
