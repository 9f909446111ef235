// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Player, type PlayerModel, type PlayerReport } from './Player';

const FRAMES = [1, 2, 3, 4, 5, 6, 7, 8];

/** A clock and a display that the test moves by hand, and frames that come when it says. */
describe('player', () => {
  let now: number;
  let due: ((now: number) => void) | undefined;
  let missing: Set<string>;
  let late: Promise<void>;
  let drawn: number[];
  let moved: number[];
  let ended: number;
  let told: PlayerReport;
  let model: PlayerModel;
  let player: Player;
  let canvas: HTMLCanvasElement;

  /** Lets pictures that were asked for arrive. */
  const settle = () => new Promise((r) => setTimeout(r, 5));

  /** Moves the clock; the display is ready once. */
  const pass = (ms: number) => {
    now += ms;
    const tick = due;
    due = undefined;
    tick?.(now);
  };

  const put = (part: Partial<PlayerModel>) => {
    model = { ...model, ...part };
    player.update(model);
  };

  beforeEach(() => {
    now = 1000;
    due = undefined;
    missing = new Set();
    late = Promise.resolve();
    drawn = [];
    moved = [];
    ended = 0;
    vi.stubGlobal('fetch', async (url: string) => {
      await late;
      return { ok: !missing.has(url), blob: () => Promise.resolve(url) };
    });
    vi.stubGlobal('createImageBitmap', (url: string) =>
      Promise.resolve({ url, width: 64, height: 36, close: () => undefined }),
    );
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        disconnect() {}
      },
    );
    vi.stubGlobal('requestAnimationFrame', (f: (now: number) => void) => {
      due = f;
      return 1;
    });
    vi.stubGlobal('cancelAnimationFrame', () => (due = undefined));
    vi.spyOn(performance, 'now').mockImplementation(() => now);
    const room = document.createElement('div');
    room.getBoundingClientRect = () => new DOMRect(0, 0, 320, 360);
    canvas = document.createElement('canvas');
    room.append(canvas);
    const g = { drawImage: (b: { url: string }) => drawn.push(Number(b.url.slice(1))) };
    canvas.getContext = (() => g) as unknown as HTMLCanvasElement['getContext'];
    model = {
      track: { frames: FRAMES, rate: 25, in: 1, out: 8 },
      urls: FRAMES.map((f) => `f${f}`),
      frame: 1,
      playing: false,
      repeat: 'once',
      every: false,
      zoom: 0,
    };
    player = new Player(
      canvas,
      model,
      (f) => {
        moved.push(f);
        model = { ...model, frame: f };
        player.update(model);
      },
      () => {
        ended++;
        model = { ...model, playing: false };
        player.update(model);
      },
      (r) => (told = r),
    );
  });

  afterEach(() => {
    player.close();
    vi.restoreAllMocks();
    vi.unstubAllGlobals();
  });

  it('shows a still frame as large as there is room', async () => {
    await settle();
    expect(drawn.at(-1)).toBe(1);
    expect([canvas.width, canvas.height]).toEqual([320, 180]);
    put({ zoom: 1 });
    expect([canvas.width, canvas.height]).toEqual([64, 36]);
    put({ frame: 5 });
    expect(drawn.at(-1)).toBe(5);
    expect(canvas.dataset.painted).toBe('5');
    expect(told).toMatchObject({ rate: null, dropped: 0, cached: FRAMES, failed: false });
    expect(told.bytes).toBe(8 * 64 * 36 * 4);
  });

  it('keeps real time, leaves frames out and counts them', async () => {
    await settle();
    put({ playing: true });
    pass(40);
    pass(40);
    pass(120);
    expect(moved).toEqual([2, 3, 6]);
    expect(told.dropped).toBe(2);
    // Three frames, 160 ms from the first to the last.
    expect(told.rate).toBeCloseTo(2 / 0.16);
  });

  it('rests at the out point, or goes round', async () => {
    await settle();
    put({ playing: true, frame: 7 });
    pass(40);
    pass(40);
    expect(moved.at(-1)).toBe(8);
    expect(ended).toBe(1);
    expect(due).toBeUndefined();
    put({ playing: true, repeat: 'loop', track: { ...model.track, in: 3, out: 8 }, frame: 8 });
    pass(40);
    expect(moved.at(-1)).toBe(3);
    expect(ended).toBe(1);
  });

  it('waits for each frame when every one is to be seen', async () => {
    await settle();
    put({ playing: true, every: true });
    pass(500);
    pass(500);
    expect(moved).toEqual([2, 3]);
    expect(told.dropped).toBe(0);
    // Sooner than the rate allows nothing moves.
    pass(10);
    expect(moved).toEqual([2, 3]);
  });

  it('waits for a frame on its way, but not for one that failed', async () => {
    let arrive = () => {};
    late = new Promise((yes) => (arrive = yes));
    missing.add('g3');
    put({ urls: FRAMES.map((f) => `g${f}`), playing: true, every: true });
    pass(500);
    expect(moved).toEqual([]);
    arrive();
    await settle();
    pass(500);
    pass(500);
    expect(moved).toEqual([2, 3]);
    expect(drawn.at(-1)).toBe(2);
    expect(told.cached.length).toBe(7);
  });

  it('counts a frame that was due and not there as left out', async () => {
    missing.add('g2');
    put({ urls: FRAMES.map((f) => `g${f}`) });
    await settle();
    put({ playing: true });
    pass(40);
    pass(40);
    expect(told.dropped).toBe(1);
    expect(drawn.at(-1)).toBe(3);
  });
});
