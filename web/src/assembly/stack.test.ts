import { describe, expect, it } from 'vitest';
import type { Input, Stack } from '../api/client';
import { ends, frameCount, stepOf } from './range';
import {
  at,
  freeId,
  hasKeyAt,
  keyFrames,
  movedInput,
  numberAt,
  text,
  toggledKey,
  withAt,
  withInputs,
  withValue,
} from './stack';

const input = (id: string, part: Partial<Input> = {}) =>
  ({ id, name: id, strength: 1, corrections: {}, mask: {}, ...part }) as Input;

const stack = (...ids: string[]): Stack => ({
  width: 64,
  height: 36,
  rate: 24,
  frames: '1-24',
  inputs: ids.map((id) => input(id)),
});

describe('numbers with keys', () => {
  it('are lines between keys, held before and after', () => {
    const n = [
      [1, 0],
      [2, 10],
    ];
    expect([0.5, 1, 1.25, 2, 3].map((t) => numberAt(n, t))).toEqual([0, 0, 2.5, 10, 10]);
    expect(numberAt(7, 3)).toBe(7);
  });

  it('get a key where there is none, and lose it where there is one', () => {
    const one = toggledKey(0.5, 1);
    expect(one).toEqual([[1, 0.5]]);
    const two = withValue(one, 2, 1);
    expect(two).toEqual([
      [1, 0.5],
      [2, 1],
    ]);
    expect(hasKeyAt(two, 2.00001)).toBe(true);
    expect(toggledKey(two, 2)).toEqual([[1, 0.5]]);
    expect(toggledKey(one, 1)).toBe(0.5);
    expect(toggledKey(two, 1.5)).toEqual([
      [1, 0.5],
      [1.5, 0.75],
      [2, 1],
    ]);
  });

  it('mark their frames, whatever they are of', () => {
    const keyed = input('a', {
      strength: [
        [0, 0],
        [1, 1],
      ],
      corrections: {
        glow: { threshold: 1, rings: [{ radius: [[0.5, 4]], strength: 1 }] },
      } as never,
    });
    expect(keyFrames(keyed, 24)).toEqual([0, 12, 24]);
    expect(keyFrames(input('b'), 24)).toEqual([]);
  });
});

describe('a stack', () => {
  it('takes inputs on top, under ids of their own', () => {
    const s = withInputs(stack('2', '1'), [input('1'), input('2')]);
    expect(s.inputs.map((i) => i.id)).toEqual(['4', '3', '2', '1']);
    expect(s.inputs.map((i) => i.name).slice(0, 2)).toEqual(['1', '2']);
    expect(freeId(s)).toBe('5');
  });

  it('has its inputs moved', () => {
    expect(movedInput(stack('3', '2', '1'), '1', 0).inputs.map((i) => i.id)).toEqual([
      '1',
      '3',
      '2',
    ]);
  });

  it('is changed at a path, lists too', () => {
    const o = { glow: { rings: [{ radius: 1 }, { radius: 2 }] } };
    expect(withAt(o, 'glow.rings.1.radius', 9)).toEqual({
      glow: { rings: [{ radius: 1 }, { radius: 9 }] },
    });
    expect(at(o, 'glow.rings.1.radius')).toBe(2);
  });
});

describe('ranges', () => {
  it('are counted', () => {
    expect(frameCount('1-96x4')).toBe(24);
    expect(frameCount('1-10,20')).toBe(11);
    expect(ends('1-96x4')).toEqual([1, 96]);
    expect(stepOf('1-96x4')).toBe(4);
    expect(stepOf('1-10,20-30x2')).toBe(1);
  });

  it('show numbers as exactly as they are set', () => {
    expect([text(0.5, 0.01), text(12, 0.5), text(3, 1)]).toEqual(['0.50', '12.0', '3']);
  });
});
