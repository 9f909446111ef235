import { describe, expect, it } from 'vitest';
import { framesOf, runFrames, withLine } from './frames';

const FRAMES = runFrames({
  frames: '1-5x2,9',
  states: 'FRXW',
  seconds: [2.5, 0, 0, 0],
  failures: [{ frame: 5, attempts: 3, setAside: true, text: 'no room' }],
  newest: [1],
});

describe('frames in few words', () => {
  it('are told one by one again', () => {
    expect(framesOf('1-3')).toEqual([1, 2, 3]);
    expect(framesOf('')).toEqual([]);
    expect(FRAMES.lines).toEqual([
      { frame: 1, state: 'FRESH', seconds: 2.5 },
      { frame: 3, state: 'RENDERING', seconds: null },
      { frame: 5, state: 'FAILED', seconds: null },
      { frame: 9, state: 'WAITING', seconds: null },
    ]);
  });

  it('follow what is pushed', () => {
    const line = { frame: 3, source: 3, attempts: 1, seconds: 2, fingerprint: 'f', failure: null };
    const now = withLine(FRAMES, { ...line, state: 'FRESH' });
    expect(now.newest).toEqual([3, 1]);
    expect(now.lines[1]).toMatchObject({ state: 'FRESH', seconds: 2 });
    const failed = withLine(now, { ...line, state: 'WAITING', failure: 'no memory' });
    expect(failed.failures.map((f) => [f.frame, f.setAside])).toEqual([
      [5, true],
      [3, false],
    ]);
  });
});
