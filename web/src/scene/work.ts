import { createContext, use } from 'react';
import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Revision, Rig, RigKey } from '../api/client';
import type { Bent, Poses, Space } from '../space/useSpace';
import { placeOf } from '../space/World';
import type { ViewPose } from '../space/navigate';
import { poseOf, type SpaceHandle } from '../space/SpaceView';

/** What the parts of the station work on together. */
export type Work = {
  revision: Revision;
  rig: Rig;
  /** Counts changes of the rig. */
  version: number;
  /** Frames a second. */
  rate: number;
  space: Space | undefined;
  poses: Poses | undefined;
  bent: Bent | undefined;
  /** Changes the rig; what is refused is told. */
  change: (to: (rig: Rig) => Rig) => Promise<boolean>;
  /** The view that was used last. */
  view: () => SpaceHandle | null;
  chosen: string | undefined;
  /** The object that was chosen last and is none of the rig's. */
  picked: string | undefined;
  /** Returns where any object is at a frame, the middle of it, and its size in metres. */
  object: (
    name: string,
    frame: number,
  ) => Promise<{ place: Matrix4; middle: number[]; size: number[] }>;
  choose: (name: string | undefined) => void;
  lookThrough: (camera: string | undefined) => void;
  /** The number of an object's node, and the name that belongs to one. */
  node: (name: string | undefined) => number | undefined;
  nameOf: (node: number | undefined) => string | undefined;
};

export const WorkContext = createContext<Work | null>(null);

export function useWork(): Work {
  const w = use(WorkContext);
  if (!w) {
    throw new Error('no scene is open');
  }
  return w;
}

/** Returns where what a camera or light of the rig hangs on is at a frame. */
export function parentAt(w: Work, name: string, frame: number): Matrix4 | undefined {
  const own = [...(w.space?.cameras ?? []), ...(w.space?.lights ?? [])].find(
    (c) => c.name === name && c.rig,
  );
  return own && own.parent >= 0 && w.space
    ? placeOf(w.space, w.poses, own.parent, frame)
    : undefined;
}

/** Returns where a key is in the world. */
export function worldOf(key: RigKey, parent: Matrix4 | undefined): ViewPose {
  const m = new Matrix4().compose(
    new Vector3().fromArray(key.position),
    new Quaternion().fromArray(key.rotation),
    new Vector3(1, 1, 1),
  );
  return poseOf(parent ? parent.clone().multiply(m) : m);
}

/** Returns a key moved by some metres in the world. */
export function shifted(key: RigKey, by: Vector3, parent: Matrix4 | undefined): RigKey {
  const local = by.clone();
  if (parent) {
    const back = parent.clone().setPosition(0, 0, 0).invert();
    local.applyMatrix4(back);
  }
  const [x, y, z] = key.position as [number, number, number];
  return { ...key, position: [x + local.x, y + local.y, z + local.z] };
}
