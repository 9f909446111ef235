import type { Rig, RigKey } from '../api/client';
import { Row } from '../shell/Row';
import { keyOf } from '../space/pose';
import { parentAt, worldOf, type Work } from './work';

/** An object that a camera or light holds on to. */
export function Bound({
  name,
  value,
  object,
  verb,
  onPut,
}: {
  name: string;
  value: string;
  object: string | undefined;
  verb: string;
  onPut: (object: string) => void;
}) {
  return (
    <Row
      name={name}
      note={
        !value && !object ? 'Press an object in the view or the tree, then come back.' : undefined
      }
    >
      <span className="flex items-baseline justify-between gap-2">
        <span className="truncate">{value || 'nothing'}</span>
        <span className="flex shrink-0 gap-2">
          {object && object !== value && (
            <button
              className="min-h-6 max-w-36 truncate text-t2 hover:text-t1"
              onClick={() => onPut(object)}
            >
              {verb} {object}
            </button>
          )}
          {value && (
            <button
              aria-label={`${name}: nothing`}
              className="min-h-6 text-t2 hover:text-t1"
              onClick={() => onPut('')}
            >
              Free
            </button>
          )}
        </span>
      </span>
    </Row>
  );
}

/**
 * Hangs a camera or light on an object without moving it, as it is at the playhead.
 *
 * @param to puts its keys in the object's space into the rig
 */
export async function fixTo(
  w: Work,
  own: { name: string; keys: RigKey[] },
  object: string,
  frame: number,
  to: (rig: Rig, fixed: { fixedTo: string; keys: RigKey[] }) => Rig,
) {
  const old = parentAt(w, own.name, frame);
  const next = object ? (await w.object(object, frame)).place : undefined;
  const keys = own.keys.map((k) => keyOf(worldOf(k, old), k.time, next, k.value, k.ease));
  return w.change((rig) => to(rig, { fixedTo: object, keys }));
}
