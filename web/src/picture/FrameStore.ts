import { loadOrder } from './playback';

/** Most bytes of decoded pictures that are kept. */
export const BUDGET_BYTES = 768 * 1024 * 1024;
const AT_ONCE = 3;

type Entry = { bitmap?: ImageBitmap; loading?: AbortController; failed?: boolean };

/** Fetches and keeps decoded frames, nearest to the playhead first, within a memory budget. */
export class FrameStore {
  private entries = new Map<string, Entry>();
  private urls: string[] = [];
  private at = 0;
  private closed = false;

  constructor(
    private readonly changed: () => void,
    private readonly budget = BUDGET_BYTES,
  ) {}

  /** Says which pictures are wanted, in order, and where the playhead is. */
  want(urls: string[], at: number) {
    this.at = at;
    if (urls !== this.urls) {
      const keep = new Set(urls);
      for (const [url, e] of this.entries) {
        if (!keep.has(url)) {
          e.loading?.abort();
          e.bitmap?.close();
          this.entries.delete(url);
        }
      }
      this.urls = urls;
    }
    this.load();
  }

  get(url: string): ImageBitmap | undefined {
    return this.entries.get(url)?.bitmap;
  }

  failed(url: string): boolean {
    return this.entries.get(url)?.failed ?? false;
  }

  /** Returns which of the wanted pictures are ready, by their places. */
  ready(): number[] {
    return this.urls.flatMap((u, i) => (this.entries.get(u)?.bitmap ? [i] : []));
  }

  /** Returns the bytes of all pictures that are kept. */
  used(): number {
    let bytes = 0;
    for (const e of this.entries.values()) {
      bytes += e.bitmap ? e.bitmap.width * e.bitmap.height * 4 : 0;
    }
    return bytes;
  }

  private load() {
    if (this.closed || this.urls.length === 0) {
      return;
    }
    let busy = [...this.entries.values()].filter((e) => e.loading).length;
    for (const i of loadOrder(this.urls.length, this.at)) {
      if (busy >= AT_ONCE) {
        return;
      }
      const url = this.urls[i]!;
      if (this.entries.has(url)) {
        continue;
      }
      if (this.used() > this.budget && !this.evict(url)) {
        return;
      }
      busy++;
      void this.fetch(url);
    }
  }

  /** Drops the picture farthest behind the playhead, unless that is the one wanted. */
  private evict(wanted: string): boolean {
    const order = loadOrder(this.urls.length, this.at).reverse();
    for (const i of order) {
      const url = this.urls[i]!;
      if (url === wanted) {
        return false;
      }
      const e = this.entries.get(url);
      if (e?.bitmap) {
        e.bitmap.close();
        this.entries.delete(url);
        return true;
      }
    }
    return false;
  }

  private async fetch(url: string) {
    const entry: Entry = { loading: new AbortController() };
    this.entries.set(url, entry);
    try {
      const answer = await fetch(url, { signal: entry.loading!.signal });
      if (!answer.ok) {
        throw new Error(String(answer.status));
      }
      const bitmap = await createImageBitmap(await answer.blob());
      if (this.closed || this.entries.get(url) !== entry) {
        bitmap.close();
        return;
      }
      entry.bitmap = bitmap;
    } catch (e) {
      if (e instanceof DOMException && e.name === 'AbortError') {
        return;
      }
      entry.failed = true;
    } finally {
      entry.loading = undefined;
    }
    this.changed();
    this.load();
  }

  close() {
    this.closed = true;
    for (const e of this.entries.values()) {
      e.loading?.abort();
      e.bitmap?.close();
    }
    this.entries.clear();
  }
}
