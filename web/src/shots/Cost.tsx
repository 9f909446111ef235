import { useRunStrands } from '../api/queries';
import type { StrandView } from '../api/strands';
import { bakes, costOf } from '../shell/cost';
import { duration, framesText, version } from '../shell/format';

/** What a layer of the shot will take, from frames of the same camera that were rendered before. */
export function Cost({ strand, count }: { strand: StrandView; count: number }) {
  const cost = costOf(strand, useRunStrands().data ?? []);
  if (!cost) {
    return (
      <p className="mt-3.5 text-t3">
        What it takes is known once a frame of this camera has been rendered
        {bakes(strand.settings) && ' with baked light'}.
      </p>
    );
  }
  const { each, from, baking, light } = cost;
  return (
    <div className="mt-4 rounded-sm border border-line px-3 py-2.5">
      <h2 className="font-[640]">Cost of layer {strand.layer.name}</h2>
      <div className="big" data-testid="cost">
        about {duration(each * count + baking)}
      </div>
      <p className="text-t2">
        {framesText(count)} at {duration(each)}, from {framesText(from.fresh)} of {from.shot}{' '}
        {version(from.number)}
        {light && `; before them its light, ${duration(baking)} in ${version(light.number)}`}
      </p>
    </div>
  );
}
