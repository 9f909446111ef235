import type { Run, Shot } from '../api/client';
import { useRuns } from '../api/queries';
import { Choice } from '../shell/Choice';
import { limitOf, USUAL_LIMIT } from '../shell/format';
import { Row } from '../shell/Row';
import { TookLight } from '../shell/TookLight';
import type { Put } from './Field';
import { withSetting } from './settings';

const LIMITS = [0, 1, 3, USUAL_LIMIT, 30, 100, 1000];

const HINTS: Record<number, string> = {
  0: 'bright specks stay',
  1: 'fewer specks, darker',
  [USUAL_LIMIT]: 'as usual',
};

/** What the limit took from the same camera when it was last rendered with it. */
function useTaken(shot: Shot, limit: number): Run | undefined {
  return useRuns().data?.find(
    (r) =>
      r.settings.camera === shot.camera &&
      r.shareCut !== null &&
      limitOf(r.settings.settings) === limit,
  );
}

/** How bright indirect light may be in one sample: it ends specks, and makes rooms darker. */
export function LimitChoice({ shot, put }: { shot: Shot; put: Put }) {
  const limit = limitOf(shot.settings);
  const last = useTaken(shot, limit);
  return (
    <Row name="Limit" hint={limit > 0 && last ? <TookLight from={last} /> : 'for bounced light'}>
      <Choice
        label="Limit for bounced light"
        value={limit}
        options={[...new Set([...LIMITS, limit])]
          .sort((a, b) => a - b)
          .map((n) => ({ value: n, label: n === 0 ? 'none' : String(n), hint: HINTS[n] }))}
        onChange={(n) =>
          void put(withSetting(shot, 'bounces', 'indirectClamp', n === USUAL_LIMIT ? undefined : n))
        }
      />
    </Row>
  );
}
