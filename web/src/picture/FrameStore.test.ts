import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FrameStore } from './FrameStore';

const MEBI = 1024 * 1024;

/** The server and the decoder: answers wait until the test lets them go. */
class Fake {
  asked: string[] = [];
  stopped: string[] = [];
  closed: string[] = [];
  private waiting = new Map<string, (a: unknown) => void>();

  constructor(private readonly side: number) {}

  fetch = (url: string, init: { signal: AbortSignal }) => {
    this.asked.push(url);
    return new Promise((yes, no) => {
      this.waiting.set(url, yes);
      init.signal.addEventListener('abort', () => {
        this.stopped.push(url);
        no(new DOMException('stopped', 'AbortError'));
      });
    });
  };

  decode = async (url: string) => ({
    width: this.side,
    height: this.side,
    close: () => this.closed.push(url),
  });

  async answer(url: string, ok = true) {
    this.waiting.get(url)!({ ok, status: ok ? 200 : 404, blob: async () => url });
    await new Promise((r) => setTimeout(r, 0));
  }
}

describe('frame store', () => {
  let fake: Fake;
  let heard: number;
  let store: FrameStore;

  function open(side: number) {
    fake = new Fake(side);
    heard = 0;
    store = new FrameStore(() => heard++);
    vi.stubGlobal('fetch', fake.fetch);
    vi.stubGlobal('createImageBitmap', fake.decode);
  }

  beforeEach(() => open(64));
  afterEach(() => vi.unstubAllGlobals());

  it('asks for three at once, on from the playhead and round to the start', async () => {
    store.want(['a', 'b', 'c', 'd', 'e'], 3);
    expect(fake.asked).toEqual(['d', 'e', 'a']);
    await fake.answer('e');
    expect(fake.asked).toEqual(['d', 'e', 'a', 'b']);
    expect(store.get('e')).toBeDefined();
    expect(store.get('d')).toBeUndefined();
    expect(store.ready()).toHaveLength(1);
    expect(heard).toBe(1);
  });

  it('goes on after a frame that failed, and says so', async () => {
    store.want(['a', 'b', 'c', 'd'], 0);
    await fake.answer('a', false);
    expect(store.failed('a')).toBe(true);
    expect(store.failed('b')).toBe(false);
    expect(fake.asked).toEqual(['a', 'b', 'c', 'd']);
  });

  it('stops and drops what is no longer wanted', async () => {
    store.want(['a', 'b', 'c'], 0);
    await fake.answer('a');
    store.want(['c', 'd'], 0);
    expect(fake.closed).toEqual(['a']);
    expect(fake.stopped).toEqual(['b']);
    expect(store.get('a')).toBeUndefined();
    expect(fake.asked).toEqual(['a', 'b', 'c', 'd']);
  });

  it('keeps no more than its memory, and drops what is farthest behind the playhead', async () => {
    // 256 MiB each: with the fourth there is more than the memory holds, so nothing more is asked.
    open(Math.sqrt((256 * MEBI) / 4));
    const urls = ['a', 'b', 'c', 'd', 'e', 'f', 'g'];
    store.want(urls, 0);
    for (const url of ['a', 'b', 'c', 'd']) {
      await fake.answer(url);
    }
    expect(fake.asked).toEqual(['a', 'b', 'c', 'd', 'e', 'f']);
    expect(fake.closed).toEqual([]);
    store.want(urls, 4);
    expect(fake.closed).toEqual(['d']);
    expect(fake.asked.at(-1)).toBe('g');
  });

  it('closes what it holds, and what still comes', async () => {
    store.want(['a', 'b'], 0);
    await fake.answer('a');
    store.close();
    expect(fake.closed).toEqual(['a']);
    expect(fake.stopped).toEqual(['b']);
    expect(heard).toBe(1);
  });
});
