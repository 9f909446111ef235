import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Matrix4, type Vector3 } from 'three';
import { cameraPicture, type Revision, type RigKey } from '../api/client';
import { useObjects } from '../api/layers';
import { useProduction, useRevisions } from '../api/queries';
import {
  NO_RIG,
  objectAt,
  useCameras,
  useChangeRig,
  useRigOf,
  useSpeed,
  withCamera,
} from '../api/rigs';
import { SlowPicture } from '../picture/SlowPicture';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { revisionName, useCurrentRevision } from '../shell/current';
import { useKeys } from '../shell/keys';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { ribbon } from '../shell/ribbon';
import { usePlaying } from '../shell/usePlaying';
import { useSettled } from '../shell/useSettled';
import { frameOf, keyAt, movedKeys } from '../space/pose';
import type { CameraPath, SpaceHandle } from '../space/SpaceView';
import { useSpace } from '../space/useSpace';
import { setKeyHere } from './CameraDetails';
import { DropZone } from './DropZone';
import { Report, type Taking } from './Report';
import { RigPanel } from './RigPanel';
import { TakeDialog } from './TakeDialog';
import { Tree } from './Tree';
import { useImportScene } from './useImportScene';
import { Views, type Seen } from './Views';
import { Wipe } from './Wipe';
import { parentAt, shifted, WorkContext, type Work } from './work';

export default function SceneStation() {
  const revisions = useRevisions();
  const revision = useCurrentRevision();
  const go = useGo();
  const choose = (r: Revision) => go({ revision: revisionName(r), object: undefined });
  const [taking, setTaking] = useState<Taking>();
  const all = revisions.data ?? [];
  const take = useImportScene(choose, (to) => {
    const from = all.find((r) => r.scene === to.scene);
    setTaking(from && { to, from, how: 'take' });
  });
  const nothing = revisions.isSuccess && revisions.data.length === 0;
  return (
    <DropZone take={take} empty={nothing}>
      {revision && (
        <Room
          key={revision.id}
          revision={revision}
          revisions={all}
          onRevision={choose}
          onPick={take.pick}
          onTake={setTaking}
        />
      )}
      {taking && (
        <TakeDialog
          key={taking.to.id}
          {...taking}
          onTaken={(r) => {
            setTaking(undefined);
            choose(r);
          }}
          onClose={() => setTaking(undefined)}
        />
      )}
    </DropZone>
  );
}

/** A scene, to look around in and to add to. */
function Room({
  revision,
  revisions,
  onRevision,
  onPick,
  onTake,
}: {
  revision: Revision;
  revisions: Revision[];
  onRevision: (r: Revision) => void;
  onPick: () => void;
  onTake: (t: Taking) => void;
}) {
  const place = usePlace();
  const go = useGo();
  const tell = useTell();
  const frame = usePlayhead();
  const rate = useProduction().data?.frameRate ?? 24;
  const definition = useRigOf(revision);
  const rig = definition?.document.rig ?? NO_RIG;
  const version = definition?.version ?? 0;
  const send = useChangeRig(revision);
  const { space, moving, full, poses, bent, error } = useSpace(revision, frame);
  const objects = useObjects(revision.id);
  const [seen, setSeen] = useState<Seen[]>([{ look: 'free' }]);
  const [left, setLeft] = useState(false);
  const [playing, setPlaying] = useState(false);
  const [chosenKeys, setChosenKeys] = useState<number[]>([]);
  const [picked, setPicked] = useState<string>();
  const view = useRef<SpaceHandle>(null);
  const chosen = place?.object;
  const change: Work['change'] = useCallback(
    async (to) => {
      try {
        await send(to);
        return true;
      } catch (e) {
        tell((e as Error).message, { bad: true });
        return false;
      }
    },
    [send, tell],
  );
  const names = useMemo(() => new Map(objects?.map((o) => [o.node, o.name])), [objects]);
  const nodes = useMemo(() => new Map(objects?.map((o) => [o.name, o.node])), [objects]);
  const choose = (name: string | undefined) => {
    const own = rig.cameras.some((c) => c.name === name) || rig.lights.some((l) => l.name === name);
    if (name && !own) {
      setPicked(name);
    }
    setChosenKeys([]);
    go({ object: name, ...(name ? { view: 'rig' as const } : {}) }, { replace: true });
  };
  const work: Work = {
    revision,
    rig,
    version,
    rate,
    space,
    poses,
    bent,
    change,
    view: () => view.current,
    chosen,
    picked,
    choose,
    lookThrough: (camera) => {
      setLeft(false);
      setSeen((all) => [camera ? { look: 'through', camera } : { look: 'free' }, ...all.slice(1)]);
    },
    object: async (name, at) => {
      const o = await objectAt(revision.id, name, at);
      const m = o.world as [
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      return { place: new Matrix4().set(...m, 0, 0, 0, 1), middle: o.middle, size: o.size };
    },
    node: (name) => (name === undefined ? undefined : nodes.get(name)),
    nameOf: (node) => (node === undefined ? undefined : names.get(node)),
  };

  // The camera whose way is shown; its keys stand on the ribbon, or those of the chosen light.
  const camera =
    rig.cameras.find((c) => c.name === chosen) ??
    rig.cameras.find((c) => c.name === seen[0]!.camera);
  const light = rig.lights.find((l) => l.name === chosen);
  const owner = light ?? camera;
  const keyFrames = useMemo(
    () => owner?.keys.map((k) => frameOf(k.time, rate)) ?? [],
    [owner, rate],
  );
  const pathFrames = useMemo(
    () => camera?.keys.map((k) => frameOf(k.time, rate)) ?? [],
    [camera, rate],
  );
  const last = Math.max(revision.last, revision.first + 1, ...keyFrames);
  const speed = useSpeed(revision.id, version, camera?.name, revision.first, last);
  const path = useMemo<CameraPath | undefined>(
    () =>
      camera && {
        camera: camera.name,
        keys: pathFrames,
        first: revision.first,
        last,
        jerks: (speed?.jerks ?? []).map((i) => i + revision.first),
      },
    [camera, pathFrames, revision, last, speed],
  );
  const times = (frames: number[]) => frames.map((f) => f / rate);
  useEffect(() => {
    if (!owner) {
      ribbon.put({ keys: null });
      return;
    }
    const put = (keys: RigKey[]) =>
      change((all) =>
        light
          ? {
              ...all,
              lights: all.lights.map((l) => (l.name === light.name ? { ...light, keys } : l)),
            }
          : withCamera(all, owner.name, { ...camera!, keys }),
      );
    ribbon.put({
      keys: {
        name: owner.name,
        frames: keyFrames,
        chosen: chosenKeys,
        onChoose: setChosenKeys,
        onMove: (by, copy) => {
          void put(movedKeys(owner.keys, times(chosenKeys), by / rate, copy));
          setChosenKeys(chosenKeys.map((f) => Math.max(0, f + by)));
        },
        onRemove: () => {
          const kept = owner.keys.filter((k) => !chosenKeys.includes(frameOf(k.time, rate)));
          if (kept.length === 0) {
            tell(`${owner.name} needs one key at least; remove it as a whole instead.`, {
              bad: true,
            });
            return;
          }
          void put(kept);
          setChosenKeys([]);
        },
      },
    });
    return () => ribbon.put({ keys: null });
    // What is done to keys is always what this turn knows.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [owner, keyFrames, chosenKeys, rate, change]);

  usePlaying(playing, revision.first, last, rate);
  useKeys((e) => {
    if (e.key !== 'k' || !camera) {
      return false;
    }
    void setKeyHere(work, camera, frame).then(() => setLeft(false));
    return true;
  });
  const onDragKey = (at: number, by: Vector3) => {
    const key = camera && keyAt(camera.keys, at / rate);
    if (camera && key) {
      const moved = shifted(key, by, parentAt(work, camera.name, at));
      void change((all) =>
        withCamera(all, camera.name, {
          ...camera,
          keys: camera.keys.map((k) => (k === key ? moved : k)),
        }),
      );
    }
  };
  const tab = (name: string, on: boolean, to: () => void) => (
    <button
      role="tab"
      aria-selected={on}
      className={`min-h-6 ${on ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
      onClick={to}
    >
      {name}
    </button>
  );
  const cameras = place?.view === 'cameras';
  const others = revisions.filter((r) => r.scene === revision.scene && r.id !== revision.id);
  const wipe = place?.view === 'wipe' && others.length > 0;
  const report = place?.view !== 'rig';
  const looks = (
    <div role="tablist" aria-label="What is shown" className="flex gap-5">
      {tab('3D view', !cameras && !wipe, () => go({ view: undefined }))}
      {tab('Cameras', cameras, () => go({ view: 'cameras' }))}
      {others.length > 0 && tab('Wipe', wipe, () => go({ view: 'wipe' }))}
    </div>
  );
  const panels = (
    <div role="tablist" aria-label="Beside it" className="mb-2 flex gap-5">
      {tab('Report', report, () => go({ view: undefined }))}
      {tab('Rig', !report, () => go({ view: 'rig' }))}
    </div>
  );
  const through = rig.cameras.find((c) => c.name === seen[0]!.camera);
  return (
    <WorkContext value={work}>
      <div className="grid h-full min-h-0 grid-cols-[248px_minmax(0,1fr)_320px]">
        <Tree revision={revision.id} chosen={chosen} onChoose={choose} />
        {cameras ? (
          <Cameras revision={revision} tabs={looks} />
        ) : wipe ? (
          <Wipe revision={revision} others={others} tabs={looks} />
        ) : error ? (
          <section aria-label="View" className="grid place-items-center bg-well p-8 text-center">
            <p>The scene cannot be shown: {error.message}</p>
          </section>
        ) : (
          <Views
            tabs={looks}
            shapes={{ moving, full }}
            seen={seen}
            onSeen={setSeen}
            path={path}
            onDragKey={onDragKey}
            onHandle={(h) => (view.current = h)}
            left={left}
            onLeft={setLeft}
            playing={playing}
            onPlay={() => setPlaying(!playing)}
            banner={
              <>
                <span role="status">
                  {through
                    ? `The view has left ${through.name} at frame ${frame}.`
                    : `The view has left ${seen[0]!.camera}, which is the file’s and stays where it is.`}
                </span>
                <span className="flex gap-2">
                  {through && (
                    <Button
                      main
                      onClick={() =>
                        void setKeyHere(work, through, frame).then(() => setLeft(false))
                      }
                    >
                      Set key here
                    </Button>
                  )}
                  <Button onClick={() => work.lookThrough(seen[0]!.camera)}>Back</Button>
                </span>
              </>
            }
          />
        )}
        {report ? (
          <Report
            revision={revision}
            revisions={revisions}
            tabs={panels}
            onChoose={(id) => onRevision(revisions.find((r) => r.id === id)!)}
            onPick={onPick}
            onTake={onTake}
          />
        ) : (
          <RigPanel tabs={panels} />
        )}
      </div>
    </WorkContext>
  );
}

/** What each camera sees at the playhead. */
function Cameras({ revision, tabs }: { revision: Revision; tabs: React.ReactNode }) {
  const frame = usePlayhead();
  const settled = useSettled(frame);
  const cameras = useCameras(revision);
  const rig = useRigOf(revision)?.version;
  const columns = cameras.length === 1 ? 'grid-cols-1' : 'grid-cols-2';
  return (
    <section aria-label="Cameras" tabIndex={0} className="overflow-auto bg-well px-4.5">
      <div className="flex h-10 items-center justify-between">
        {tabs}
        <span className="fig text-t2">frame {settled}</span>
      </div>
      <div className={`grid ${columns} gap-x-5 gap-y-4 pt-1`}>
        {cameras.map((c) => (
          <figure key={c.name}>
            <div className="aspect-video bg-bg">
              <SlowPicture
                url={cameraPicture(revision, c.name, settled, 448, rig)}
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
                {c.rig ? ' · rig' : ''}
              </span>
            </figcaption>
          </figure>
        ))}
      </div>
    </section>
  );
}
