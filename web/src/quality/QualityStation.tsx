import { useStrandView } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { useCurrentShot } from '../shell/current';
import { Ladder } from './Ladder';
import { RecipePanel } from './RecipePanel';

/** How many samples are enough, and what they cost. */
export default function QualityStation() {
  const shot = useCurrentShot();
  const strand = useStrandView(shot, usePlace()?.layer);
  const go = useGo();
  if (!shot) {
    return (
      <main className="grid place-items-center bg-well">
        <div className="text-center">
          <p className="big mb-2">No shots yet</p>
          <p className="mb-5 text-t2">Quality is judged on a part of a shot’s picture.</p>
          <Button main onClick={() => go({ station: 'shots' })}>
            Go to Shots
          </Button>
        </div>
      </main>
    );
  }
  if (!strand) {
    return <main />;
  }
  const key = `${shot.id}-${strand.layer.id}`;
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px]">
      <Ladder key={key} strand={strand} />
      <RecipePanel key={`${key}-${strand.recipe.id}`} strand={strand} />
    </main>
  );
}
