import { useState, type ReactNode } from 'react';
import { useSavingShot } from '../api/queries';
import type { StrandView } from '../api/strands';
import { LivePicture, type Brightness } from './LivePicture';

/** A strand's live picture, asked for again once a change that it depends on is saved. */
export function StrandPicture({
  strand,
  frame,
  note,
}: {
  strand: StrandView;
  frame: number;
  note?: (b: Brightness) => ReactNode;
}) {
  const { shot, layer, settings } = strand;
  const depends = [
    shot.camera,
    shot.width,
    shot.height,
    shot.scale,
    shot.revisionId,
    layer.id,
    JSON.stringify({ ...settings, delivery: undefined }),
  ].join();
  const saving = useSavingShot();
  const [saved, setSaved] = useState(depends);
  if (!saving && saved !== depends) {
    setSaved(depends);
  }
  return (
    <LivePicture
      shotId={shot.id}
      layerId={layer.id}
      frame={frame}
      settings={saved}
      aspect={shot.width / shot.height}
      note={note}
    />
  );
}
