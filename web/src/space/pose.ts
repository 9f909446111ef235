import { Matrix4, Quaternion, Vector3 } from 'three';
import type { Ease, RigKey } from '../api/client';
import type { ViewPose } from './navigate';

/** Seconds that are the same time. */
const SAME = 1e-4;

/** Returns a place in the world as a key, in the space of what it hangs on. */
export function keyOf(
  pose: ViewPose,
  time: number,
  parent: Matrix4 | undefined,
  value: number | null,
  ease: Ease,
): RigKey {
  const m = new Matrix4().compose(pose.position, pose.rotation, new Vector3(1, 1, 1));
  const local = parent ? parent.clone().invert().multiply(m) : m;
  const position = new Vector3();
  const rotation = new Quaternion();
  local.decompose(position, rotation, new Vector3());
  return {
    time,
    position: position.toArray(),
    rotation: rotation.normalize().toArray(),
    value,
    ease,
  };
}

/** Returns keys with one more; it takes the place of one at the same time. */
export const withKey = (keys: RigKey[], key: RigKey): RigKey[] =>
  [...keys.filter((k) => Math.abs(k.time - key.time) > SAME), key].sort((a, b) => a.time - b.time);

export const keyAt = (keys: RigKey[], time: number) =>
  keys.find((k) => Math.abs(k.time - time) <= SAME);

/** Returns keys of which some are elsewhere in time; they take the place of what is there. */
export function movedKeys(keys: RigKey[], times: number[], by: number, copy: boolean): RigKey[] {
  const some = keys.filter((k) => times.some((t) => Math.abs(t - k.time) <= SAME));
  const rest = copy ? keys : keys.filter((k) => !some.includes(k));
  return some
    .map((k) => ({ ...k, time: Math.max(0, k.time + by) }))
    .reduce((all, k) => withKey(all, k), rest);
}

/** The frame of a time. */
export const frameOf = (time: number, rate: number) => Math.round(time * rate);
