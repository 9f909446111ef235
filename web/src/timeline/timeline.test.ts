import { describe, expect, it } from 'vitest';
import { frameAt, rulerStep } from './ruler';
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
