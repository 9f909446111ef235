import { describe, expect, it } from 'vitest';
import type { RunStrand } from '../api/client';
import { batchOf, batchState, leftOf, secondsLeft } from './batch';

const run = (part: Partial<RunStrand>) =>
  ({
    id: 1,
    run: 1,
    state: 'RUNNING',
    total: 10,
    fresh: 0,
    failed: 0,
    skipped: 0,
    secondsPerFrame: null,
    ...part,
  }) as RunStrand;

const now = {
  strandId: 1,
  kind: 'FRAME' as const,
  extra: null,
  frame: 3,
  fraction: 0.5,
  seconds: 1,
  secondsLeft: 15,
};

describe('strands that were started together', () => {
  it('are known by their number', () => {
    const all = [run({ id: 3 }), run({ id: 2, run: 2 }), run({ id: 1 })];
    expect(batchOf(all, all[0]!).map((r) => r.id)).toEqual([1, 3]);
  });

  it('are ready when the last of them is', () => {
    const first = run({ fresh: 4, secondsPerFrame: 2 });
    const second = run({ id: 2, failed: 1, secondsPerFrame: 4 });
    const third = run({ id: 3 });
    expect(leftOf(second)).toBe(9);
    // 15 s of the one in work, 9 frames of 4 s, and 10 of the mean of 3 s.
    expect(secondsLeft([first, second, third], now)).toBe(15 + 36 + 30);
    expect(secondsLeft([first], null)).toBe(12);
    expect(secondsLeft([run({ state: 'DONE' })], null)).toBe(0);
  });

  it('are done when all of them are', () => {
    const [done, failed] = [run({ state: 'DONE' }), run({ state: 'FAILED' })];
    expect(batchState([done])).toBe('DONE');
    expect(batchState([done, failed])).toBe('FAILED');
    expect(batchState([failed, run({})])).toBe('RUNNING');
  });

  it('say nothing before the first frame', () => {
    expect(secondsLeft([run({}), run({ id: 2 })], { ...now, frame: null })).toBeUndefined();
  });
});
