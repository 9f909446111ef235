import { useEstimates } from '../api/queries';
import type { StrandView } from '../api/strands';
import { estimateFrom, isKnown, takesText } from '../shell/estimate';
import { bytes, duration, framesText } from '../shell/format';

/** What the frames of a layer of the shot will take that are still to be rendered. */
export function Cost({ strand: { shot, layer } }: { strand: StrandView }) {
  const e = useEstimates().data?.find((x) => x.shotId === shot.id && x.layerId === layer.id);
  if (!e || !isKnown(e)) {
    return (
      <p className="mt-3.5 text-t3">
        {!e
          ? 'The layer is off; what it takes is found out once it is on.'
          : e.pending
            ? 'Frames are being tried out to see what this takes.'
            : 'What it takes is not known: no frame could be tried out.'}
      </p>
    );
  }
  return (
    <div className="mt-4 rounded-sm border border-line px-3 py-2.5">
      <h2 className="font-[640]">Cost of layer {layer.name}</h2>
      <div className="big" data-testid="cost">
        {e.frames === 0 ? 'all fresh' : takesText(e.seconds)}
      </div>
      {e.frames > 0 && (
        <p className="text-t2">
          {framesText(e.frames)} at {duration(e.seconds.value / e.rendered)}, {bytes(e.bytes.value)}
          ; from {estimateFrom(e)}
        </p>
      )}
    </div>
  );
}
