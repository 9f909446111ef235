import { useEffect, useState } from 'react';
import { cameraPicture, type Revision } from '../api/client';
import { useRevisions } from '../api/queries';
import { SlowPicture } from '../picture/SlowPicture';
import { useGo } from '../shell/address';
import { revisionName, useCurrentRevision } from '../shell/current';
import { usePlayhead } from '../shell/playhead';
import { DropZone } from './DropZone';
import { Report } from './Report';
import { useImportScene } from './useImportScene';

export default function SceneStation() {
  const revisions = useRevisions();
  const revision = useCurrentRevision();
  const go = useGo();
  const choose = (r: Revision) => go({ revision: revisionName(r) });
  const take = useImportScene(choose);
  const nothing = revisions.isSuccess && revisions.data.length === 0;
  return (
    <DropZone take={take} empty={nothing}>
      {revision && (
        <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_320px]">
          <Cameras revision={revision} />
          <Report
            revision={revision}
            revisions={revisions.data ?? []}
            onChoose={(id) => choose(revisions.data!.find((r) => r.id === id)!)}
            onPick={take.pick}
          />
        </div>
      )}
    </DropZone>
  );
}

/** What each camera sees at the playhead. */
function Cameras({ revision }: { revision: Revision }) {
  const frame = usePlayhead();
  const at = Math.max(revision.first, Math.min(revision.last, frame));
  const settled = useSettled(at, 250);
  const cameras = revision.report.cameras;
  const columns = cameras.length === 1 ? 'grid-cols-1' : 'grid-cols-2';
  return (
    <section aria-label="Cameras" tabIndex={0} className="overflow-auto bg-well px-5 py-3.5">
      <div className="mb-3 flex justify-between">
        <h2 className="font-[640]">
          {cameras.length === 1 ? 'The camera' : `${cameras.length} cameras`} of {revision.scene}
        </h2>
        <span className="fig text-t2">frame {settled}</span>
      </div>
      <div className={`grid ${columns} gap-x-5 gap-y-4`}>
        {cameras.map((c) => (
          <figure key={c.name}>
            <div className="aspect-video bg-bg">
              <SlowPicture
                url={cameraPicture(revision, c.name, settled, 448)}
                alt={`View of camera ${c.name}`}
              />
            </div>
            <figcaption className="flex justify-between pt-1">
              <span className="font-medium">{c.name}</span>
              <span className="fig text-t2">
                {c.kind === 'perspective'
                  ? `${c.angleDegrees.toFixed(0)}° vertical field of view`
                  : `orthographic, ${c.heightMetres.toPrecision(3)} m of view`}
                {c.moves ? ' · animated' : ' · static'}
                {c.added ? ' · added' : ''}
              </span>
            </figcaption>
          </figure>
        ))}
      </div>
    </section>
  );
}

/** Returns the value once it has stopped changing for a while. */
function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const t = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(t);
  }, [value, ms]);
  return settled;
}
