import { describe, expect, it } from 'vitest';
import { frameAfter, indexAt, loadOrder } from './playback';

const track = { frames: [1, 9, 17, 25], rate: 24, in: 1, out: 25 };

describe('playback', () => {
  it('shows the last frame at or before the time', () => {
    expect(indexAt(track.frames, 8)).toBe(0);
    expect(indexAt(track.frames, 9)).toBe(1);
    expect(indexAt(track.frames, 99)).toBe(3);
    expect(indexAt(track.frames, 0)).toBe(0);
  });

  it('keeps real time and ends or goes round', () => {
    expect(frameAfter(track, 1, 0.5, 'once')).toMatchObject({ frame: 13, ended: false });
    expect(frameAfter(track, 1, 2, 'once')).toMatchObject({ frame: 25, ended: true });
    expect(frameAfter(track, 1, 25 / 24, 'loop')).toMatchObject({ frame: 1, ended: false });
    expect(frameAfter(track, 20, 10 / 24, 'loop')).toMatchObject({ frame: 5, ended: false });
  });

  it('goes back from the out point and on again from the in point', () => {
    const at = (seconds: number, way?: 1 | -1) =>
      frameAfter(track, 20, seconds / 24, 'bounce', way).frame;
    expect([5, 6, 29, 30].map((n) => at(n))).toEqual([25, 24, 1, 2]);
    expect([1, 19, 20].map((n) => at(n, -1))).toEqual([19, 1, 2]);
  });

  it('loads from the playhead on and round', () => {
    expect(loadOrder(4, 2)).toEqual([2, 3, 0, 1]);
  });
});
