import { useRuns, useShots } from '../api/queries';
import { strandView, useStrandParts } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { useCurrentShot } from '../shell/current';
import { BoardTable } from './BoardTable';
import { StrandPanel } from './StrandPanel';

/** Shots down, layers across, a strand in each cell. */
export default function BoardStation() {
  const shots = useShots().data;
  const parts = useStrandParts();
  const runs = useRuns().data;
  const shot = useCurrentShot();
  const layer = usePlace()?.layer;
  if (!shots || !parts || !runs) {
    return <main />;
  }
  if (!shot) {
    return <NoShots />;
  }
  const rows = shots.map((s) =>
    parts.layers.map((l) => strandView(s, l, parts)).filter((v) => v !== undefined),
  );
  const row = rows.find((r) => r[0]?.shot.id === shot.id);
  const current = row?.find((v) => v.layer.name === layer) ?? row?.[0];
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px]">
      <BoardTable rows={rows} layers={parts.layers} runs={runs} current={current} />
      {current && (
        <StrandPanel key={`${current.shot.id}-${current.layer.id}`} strand={current} rows={rows} />
      )}
    </main>
  );
}

function NoShots() {
  const go = useGo();
  return (
    <main className="grid place-items-center bg-well">
      <div className="text-center">
        <p className="big mb-2">No shots yet</p>
        <p className="mb-5 text-t2">
          The Board has a row for each shot and a column for each layer.
        </p>
        <Button main onClick={() => go({ station: 'shots' })}>
          Go to Shots
        </Button>
      </div>
    </main>
  );
}
