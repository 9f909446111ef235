import { describe, expect, it } from 'vitest';
import { currentName, frameAt, otherName, rulerStep } from './ruler';
import { heights, spans, type Column } from './skyline';

const column = (frame: number, seconds: number | null): Column => ({
  frame,
  seconds,
  state: seconds === null ? 'WAITING' : 'FRESH',
});

describe('skyline', () => {
  it('is as high as the render time, and as the mean where there is none yet', () => {
    const h = heights([column(1, 2), column(2, 4), column(3, null)]);
    expect(h[1]).toBe(1);
    expect(h[0]).toBeCloseTo(0.12 + 0.88 * 0.5);
    expect(h[2]).toBeCloseTo(0.12 + 0.88 * 0.75);
  });

  it('puts columns at their frames, each reaching to the next', () => {
    const box = { x: 10, y: 0, width: 96, height: 20 };
    const places = spans([column(1, 1), column(9, 1), column(17, 1)], box, 1, 96);
    expect(places[0]).toEqual({ x: 10, width: 8 });
    expect(places[2]).toEqual({ x: 26, width: 8 });
  });
});

describe('names of spans', () => {
  it('stand in the current span, or beside it where it is too short', () => {
    expect(currentName(100, 400, 50, 1240)).toEqual({ at: 107, from: 100, to: 500 });
    expect(currentName(0, 6, 50, 1240)).toEqual({ at: 13, from: 0, to: 70 });
    // At the end there is no room but before it.
    expect(currentName(1234, 6, 50, 1240)).toEqual({ at: 1177, from: 1170, to: 1240 });
  });

  it('of others are not written over it', () => {
    const current = currentName(0, 6, 50, 1240);
    expect(otherName(0, current)).toBe(77);
    expect(otherName(200, current)).toBe(207);
    expect(otherName(200)).toBe(207);
  });
});

describe('ruler', () => {
  it('keeps labels apart', () => {
    expect(rulerStep(96, 1240)).toBe(5);
    expect(rulerStep(10, 1240)).toBe(1);
    expect(rulerStep(100_000, 1240)).toBe(5000);
  });

  it('finds the frame under a place and stays inside', () => {
    expect(frameAt(0, 960, 1, 96)).toBe(1);
    expect(frameAt(10, 960, 1, 96)).toBe(2);
    expect(frameAt(5000, 960, 1, 96)).toBe(96);
    expect(frameAt(-5, 960, 1, 96)).toBe(1);
  });
});
