import { describe, expect, it } from 'vitest';
import { draw, drawnAt, hasKey, withKey, withoutKey } from './region';

const A = { x: 0, y: 0, width: 0.2, height: 0.4 };
const B = { x: 0.5, y: 0.5, width: 0.4, height: 0.2 };

describe('a region that is drawn', () => {
  it('moves in straight lines from key to key, and stays before and behind them', () => {
    const keys = withKey(withKey([], 3, B), 1, A);
    expect(keys.map((k) => k.seconds)).toEqual([1, 3]);
    expect(drawnAt(keys, 0)).toEqual(A);
    expect(drawnAt(keys, 9)).toEqual(B);
    const middle = drawnAt(keys, 2);
    expect(middle.x).toBeCloseTo(0.25);
    expect(middle.height).toBeCloseTo(0.3);
  });

  it('is moved as long as it has one key, and keyed once it has more', () => {
    const one = draw([{ seconds: 0, ...A }], 5, B);
    expect(one).toEqual([{ seconds: 0, ...B }]);
    const two = draw(withKey(one, 1, A), 2, A);
    expect(two.map((k) => k.seconds)).toEqual([0, 1, 2]);
  });

  it('has one key at a moment', () => {
    const keys = withKey(withKey([], 1, A), 1 + 1e-6, B);
    expect(keys).toHaveLength(1);
    expect(hasKey(keys, 1)).toBe(true);
    expect(withoutKey(keys, 1)).toEqual([]);
  });
});
