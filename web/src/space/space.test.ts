// @vitest-environment jsdom
import { Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { readBlocks } from './blocks';
import { frameOf, keyOf, movedKeys, withKey } from './pose';
import { posedAt, type Space } from './useSpace';

const key = (time: number) => ({
  time,
  position: [time, 0, 0],
  rotation: [0, 0, 0, 1],
  value: null,
  ease: 'eased' as const,
});

describe('the view of a scene', () => {
  it('is read from a head and arrays behind it', () => {
    const head = JSON.stringify({
      shown: 'whole',
      blocks: { a: { kind: 'f32', at: 0, count: 2 }, b: { kind: 'u8', at: 8, count: 3 } },
    });
    const text = new TextEncoder().encode(head.padEnd(Math.ceil(head.length / 4) * 4));
    const data = new ArrayBuffer(4 + text.length + 12);
    new DataView(data).setInt32(0, text.length, true);
    new Uint8Array(data).set(text, 4);
    new Float32Array(data, 4 + text.length, 2).set([1.5, -2]);
    new Uint8Array(data, 12 + text.length, 3).set([7, 8, 9]);
    const read = readBlocks<{ shown: string }>(data);
    expect(read.head).toEqual({ shown: 'whole' });
    expect([...read.floats('a')]).toEqual([1.5, -2]);
    expect([...read.bytes('b')]).toEqual([7, 8, 9]);
    expect(() => read.whole('c')).toThrow('has no c');
  });

  it('finds posed nodes by their numbers', () => {
    const space = { posed: Int32Array.of(2, 5, 9) } as Space;
    expect([2, 5, 9, 1, 6, 10].map((n) => posedAt(space, n))).toEqual([0, 1, 2, -1, -1, -1]);
  });
});

describe('keys', () => {
  it('take the place of one at the same time, and stay in order', () => {
    const all = withKey([key(0), key(1), key(2)], { ...key(1.00001), position: [9, 9, 9] });
    expect(all.map((k) => k.position[0])).toEqual([0, 9, 2]);
    expect(withKey([key(1)], key(0.5)).map((k) => k.time)).toEqual([0.5, 1]);
  });

  it('are moved and copied', () => {
    const all = [key(0), key(1), key(2)];
    expect(movedKeys(all, [1], 0.5, false).map((k) => k.time)).toEqual([0, 1.5, 2]);
    expect(movedKeys(all, [1], 0.5, true).map((k) => k.time)).toEqual([0, 1, 1.5, 2]);
    expect(movedKeys(all, [1], 1, false).map((k) => k.position[0])).toEqual([0, 1]);
    expect(movedKeys(all, [0, 1], -5, false).map((k) => k.time)).toEqual([0, 2]);
  });

  it('lie in the space of what they hang on', () => {
    const parent = new Matrix4().compose(
      new Vector3(10, 0, 0),
      new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), Math.PI / 2),
      new Vector3(2, 2, 2),
    );
    const pose = { position: new Vector3(10, 0, -4), rotation: new Quaternion() };
    const k = keyOf(pose, 1, parent, null, 'eased');
    expect(new Vector3().fromArray(k.position).distanceTo(new Vector3(2, 0, 0))).toBeLessThan(1e-9);
    const back = new Vector3().fromArray(k.position).applyMatrix4(parent);
    expect(back.distanceTo(pose.position)).toBeLessThan(1e-9);
  });

  it('belong to the nearest frame', () => {
    expect(frameOf(1, 23.976)).toBe(24);
    expect(frameOf(2.0000001, 24)).toBe(48);
  });
});
