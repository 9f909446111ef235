import { useMemo, useState } from 'react';
import { useObjects } from '../api/layers';
import { useStrandParts, useStrandView } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { useCurrentShot } from '../shell/current';
import { LayerPanel } from './LayerPanel';
import { LayerPicture } from './LayerPicture';
import { ObjectTable } from './ObjectTable';
import { itemsOf } from '../shell/tree';

/** What is rendered apart, and how. */
export default function LayersStation() {
  const shot = useCurrentShot();
  const parts = useStrandParts();
  const strand = useStrandView(shot, usePlace()?.layer);
  const objects = useObjects(shot?.revisionId);
  const items = useMemo(() => itemsOf(objects ?? []), [objects]);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [pointed, setPointed] = useState<number>();
  const [drawing, setDrawing] = useState(false);
  const go = useGo();
  if (!parts) {
    return <main />;
  }
  if (!shot || !strand) {
    return (
      <main className="grid place-items-center bg-well">
        <div className="text-center">
          <p className="big mb-2">No shots yet</p>
          <p className="mb-5 text-t2">Layers are looked at through the camera of a shot.</p>
          <Button main onClick={() => go({ station: 'shots' })}>
            Go to Shots
          </Button>
        </div>
      </main>
    );
  }
  return (
    <main className="grid min-h-0 grid-cols-[minmax(380px,34%)_minmax(0,1fr)_286px]">
      <ObjectTable
        key={shot.revisionId}
        items={items}
        loading={!objects}
        revision={shot.revisionId}
        layers={parts.layers}
        current={strand.layer}
        chosen={chosen}
        onChoose={setChosen}
        onPoint={setPointed}
      />
      <LayerPicture
        key={shot.id}
        strand={strand}
        items={items}
        pointed={pointed}
        chosen={chosen}
        onChoose={setChosen}
        drawing={drawing}
      />
      <LayerPanel
        key={strand.layer.id}
        strand={strand}
        items={items}
        chosen={chosen}
        drawing={drawing}
        onDrawing={setDrawing}
      />
    </main>
  );
}
