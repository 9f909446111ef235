import { useRef, useState, type ReactNode } from 'react';
import { useQuery, keepPreviousData } from '@tanstack/react-query';
import { Matrix4 } from 'three';
import { answer, api, type Revision, type Shot } from '../api/client';
import { useChangeShot, useProduction } from '../api/queries';
import { freeName, newCamera, NO_RIG, useChangeRig, useRigOf, withCamera } from '../api/rigs';
import { Button } from '../shell/Button';
import { useKeys } from '../shell/keys';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { usePlaying } from '../shell/usePlaying';
import { keyAt, keyOf, withKey } from '../space/pose';
import { SpaceView, type SpaceHandle } from '../space/SpaceView';
import { useSpace } from '../space/useSpace';
import { placeOf } from '../space/World';

/** The angle of view behind the shot's lens at a frame. */
function useView(shot: Shot, rig: number, frame: number): number | undefined {
  const keyed = { lens: shot.settings.lens, width: shot.width, height: shot.height };
  const all = useQuery({
    queryKey: ['views', shot.id, shot.camera, shot.revisionId, rig, keyed, Math.floor(frame / 240)],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/shots/{id}/views', {
          params: {
            path: { id: shot.id },
            query: { first: Math.floor(frame / 240) * 240, count: 240 },
          },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  }).data;
  return all?.[frame % 240];
}

/**
 * The shot through its own camera as plain shapes, playing in real time. Moving the view away sets a
 * key of the rig's camera, or makes one of the rig like the file's.
 */
export function Viewfinder({
  shot,
  revision,
  first,
  last,
  over,
}: {
  shot: Shot;
  revision: Revision;
  first: number;
  last: number;
  over: ReactNode;
}) {
  const frame = usePlayhead();
  const rate = useProduction().data?.frameRate ?? 24;
  const definition = useRigOf(revision);
  const rig = definition?.document.rig ?? NO_RIG;
  const { space, moving, full, poses, bent, error } = useSpace(revision, frame);
  const change = useChangeRig(revision);
  const changeShot = useChangeShot();
  const tell = useTell();
  const view = useView(shot, definition?.version ?? 0, frame);
  const handle = useRef<SpaceHandle>(null);
  const [leftAt, setLeftAt] = useState('');
  const [again, setAgain] = useState(0);
  const [playing, setPlaying] = useState(false);
  usePlaying(playing, first, last, rate);
  useKeys((e) => {
    if (e.key !== ' ') {
      return false;
    }
    setPlaying(!playing);
    return true;
  });
  // Another frame, or another shot, is seen through the camera again.
  const place = `${shot.id} ${frame}`;
  const left = leftAt === place;
  const setLeft = (now: boolean) => setLeftAt(now ? place : '');
  const own = rig.cameras.find((c) => c.name === shot.camera);
  const line = space?.cameras.find((c) => c.name === shot.camera);
  const parent = (): Matrix4 | undefined =>
    line && line.parent >= 0 && space ? placeOf(space, poses, line.parent, frame) : undefined;
  const take = async () => {
    const pose = handle.current?.pose();
    if (!pose || !space || !line) {
      return;
    }
    const time = frame / rate;
    try {
      if (own) {
        const there = keyAt(own.keys, time);
        const key = keyOf(pose, time, parent(), there?.value ?? null, there?.ease ?? 'eased');
        await change((r) => withCamera(r, own.name, { ...own, keys: withKey(own.keys, key) }));
      } else {
        const name = freeName(revision, rig, `${shot.camera}-reframed`);
        const seen = revision.report.cameras.find((c) => c.name === shot.camera);
        const made = newCamera(
          name,
          {
            orthographic: !line.perspective,
            view: seen ? seen.heightMetres || seen.angleDegrees : 40,
          },
          keyOf(pose, time, undefined, null, 'eased'),
        );
        await change((r) => ({ ...r, cameras: [...r.cameras, made] }));
        await changeShot.mutateAsync({ id: shot.id, part: { camera: name } });
        tell(`The shot is seen through ${name} now; the file’s ${shot.camera} stays as it is.`);
      }
      setLeft(false);
    } catch (e) {
      tell((e as Error).message, { bad: true });
    }
  };
  if (error) {
    return <p className="grid flex-1 place-items-center">It cannot be shown: {error.message}</p>;
  }
  if (!space || !poses) {
    return <p className="grid flex-1 place-items-center text-t3">The scene is being read …</p>;
  }
  return (
    <>
      <div className="min-h-0 flex-1">
        <SpaceView
          key={again}
          handle={handle}
          label={`Viewfinder of shot ${shot.name}`}
          space={space}
          moving={moving}
          full={full}
          poses={poses}
          bent={bent}
          frame={frame}
          look="through"
          through={shot.camera}
          angle={view}
          aspect={shot.width / shot.height}
          chosen={undefined}
          onChoose={() => undefined}
          path={undefined}
          onDragKey={() => undefined}
          onLeave={() => setLeft(true)}
          over={over}
          bare
        />
      </div>
      <div className="flex min-h-9 items-center justify-between text-t2">
        {left ? (
          <>
            <span role="status">
              {own
                ? `The view has left ${shot.camera} at frame ${frame}.`
                : `${shot.camera} is the file’s and stays; this view can become a camera of the rig.`}
            </span>
            <span className="flex gap-2">
              <Button main onClick={() => void take()}>
                {own ? `Set key at ${frame}` : 'New camera here'}
              </Button>
              <Button
                onClick={() => {
                  setLeft(false);
                  setAgain(again + 1);
                }}
              >
                Back
              </Button>
            </span>
          </>
        ) : (
          <>
            <span>drag to reframe</span>
            <button
              className="min-h-6 hover:text-t1"
              title="space"
              onClick={() => setPlaying(!playing)}
            >
              {playing ? 'Stop' : 'Play'}
            </button>
          </>
        )}
      </div>
    </>
  );
}
