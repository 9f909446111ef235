import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { cameraPicture, picture, type Revision } from '../api/client';
import { useProduction } from '../api/queries';
import { useCameras, useRigOf } from '../api/rigs';
import { Compare } from '../picture/Compare';
import { Choice } from '../shell/Choice';
import { revision as revisionText } from '../shell/format';
import { usePlayhead } from '../shell/playhead';
import { useSettled } from '../shell/useSettled';

/** Pixels of a picture's width: the most there is of a camera's. */
const WIDTH = 640;

/** Two revisions of a scene through one camera, at the playhead. */
export function Wipe({
  revision,
  others,
  tabs,
}: {
  revision: Revision;
  others: Revision[];
  tabs: ReactNode;
}) {
  const frame = useSettled(usePlayhead());
  const cameras = useCameras(revision);
  const rig = useRigOf(revision)?.version;
  const production = useProduction().data;
  const [chosen, setChosen] = useState<number>();
  const [seen, setSeen] = useState<string>();
  const other = others.find((r) => r.id === chosen) ?? others[0];
  const camera = cameras.find((c) => c.name === seen)?.name ?? cameras[0]?.name;
  const urls =
    other && camera
      ? [other, revision].map((r) => cameraPicture(r, camera, frame, WIDTH, rig))
      : [];
  const made = useQuery({
    queryKey: ['wipe', ...urls],
    // The browser keeps them; what is shown is asked for by its address.
    queryFn: async ({ signal }) => {
      await Promise.all(urls.map((u) => picture(u, signal)));
      return urls;
    },
    enabled: urls.length === 2,
    retry: false,
    gcTime: 0,
  });
  return (
    <section aria-label="Two revisions" className="flex min-h-0 flex-col bg-well px-4.5 pb-3">
      <div className="flex h-10 items-center gap-5">
        {tabs}
        <span className="ml-auto flex items-center gap-4 text-t2">
          {camera && (
            <Choice
              label="Camera"
              value={camera}
              options={cameras.map((c) => ({ value: c.name, label: c.name }))}
              onChange={setSeen}
            />
          )}
          {other && (
            <Choice
              label="Against"
              value={other.id}
              options={others.map((r) => ({ value: r.id, label: revisionText(r.number) }))}
              onChange={setChosen}
            />
          )}
          <span className="fig">frame {frame}</span>
        </span>
      </div>
      {made.data && other ? (
        <Compare
          a={{ src: made.data[0]!, label: revisionText(other.number) }}
          b={{ src: made.data[1]!, label: revisionText(revision.number) }}
          aspect={production ? production.width / production.height : 16 / 9}
        />
      ) : (
        <p className="grid flex-1 place-items-center text-t2">
          {made.isError ? made.error.message : 'rendering both …'}
        </p>
      )}
    </section>
  );
}
