import { useState, type ComponentProps } from 'react';
import { useRevisions, useSavingShot } from '../api/queries';
import { useRigOf } from '../api/rigs';
import type { StrandView } from '../api/strands';
import { LivePicture } from './LivePicture';

/** A strand's live picture, asked for again once a change that it depends on is saved. */
export function StrandPicture({
  strand,
  frame,
  also = '',
  ...rest
}: {
  strand: StrandView;
  frame: number;
  /** Changes with whatever else the picture depends on. */
  also?: string;
} & Pick<ComponentProps<typeof LivePicture>, 'shown' | 'still' | 'note' | 'over' | 'part'>) {
  const { shot, layer, settings } = strand;
  const revision = useRevisions().data?.find((r) => r.id === shot.revisionId);
  const rig = useRigOf(revision);
  const depends = [
    shot.camera,
    shot.width,
    shot.height,
    shot.scale,
    shot.revisionId,
    // The file is read otherwise, or the rig has changed.
    revision?.sha256,
    rig?.version,
    layer.id,
    also,
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
      {...rest}
    />
  );
}
