import { FrameStore } from './FrameStore';
import { frameAfter, indexAt, type Track } from './playback';

/** What the player is told. */
export type PlayerModel = {
  track: Track;
  /** A picture for each of the track's frames. */
  urls: string[];
  frame: number;
  playing: boolean;
  loop: boolean;
  /** True to show every frame, however long it takes; false to keep real time. */
  every: boolean;
  fit: boolean;
};

/** What the player tells: the frame it shows, its rate and what it left out. */
export type PlayerReport = { rate: number | null; dropped: number; ready: number };

/** Plays a sequence on a canvas. */
export class Player {
  private readonly store = new FrameStore(() => this.paint());
  private request = 0;
  private start = { time: 0, frame: 0 };
  private shown = -1;
  private painted: number[] = [];
  private dropped = 0;
  private lastIndex = -1;
  private readonly resized = new ResizeObserver(() => this.paint(true));

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private model: PlayerModel,
    private readonly moved: (frame: number) => void,
    private readonly ended: () => void,
    private readonly report: (r: PlayerReport) => void,
  ) {
    this.resized.observe(canvas.parentElement!);
    this.update(model);
  }

  update(model: PlayerModel) {
    const was = this.model;
    this.model = model;
    const jumped = model.frame !== this.shown;
    if (
      model.playing &&
      (!was.playing || jumped || was.track !== model.track || was.every !== model.every)
    ) {
      this.start = { time: performance.now(), frame: model.frame };
      this.lastIndex = -1;
      if (!was.playing) {
        this.dropped = 0;
        this.painted = [];
      }
    }
    this.shown = model.frame;
    this.store.want(model.urls, this.index());
    this.paint(true);
    if (model.playing) {
      this.tick();
    } else {
      cancelAnimationFrame(this.request);
      this.tell();
    }
  }

  private index(): number {
    return indexAt(this.model.track.frames, this.shown);
  }

  private tick() {
    cancelAnimationFrame(this.request);
    this.request = requestAnimationFrame((now) => {
      if (!this.model.playing) {
        return;
      }
      if (this.model.every) {
        this.stepEvery(now);
      } else {
        this.stepReal(now);
      }
      if (this.model.playing) {
        this.tick();
      }
    });
  }

  private stepReal(now: number) {
    const { track, loop } = this.model;
    const { frame, ended } = frameAfter(
      track,
      Math.max(track.in, Math.min(track.out, this.start.frame)),
      (now - this.start.time) / 1000,
      loop,
    );
    if (frame === this.shown && !ended) {
      return;
    }
    this.shown = frame;
    const index = this.index();
    this.store.want(this.model.urls, index);
    if (index !== this.lastIndex) {
      const skipped = index - this.lastIndex - 1;
      this.dropped += this.lastIndex >= 0 && skipped > 0 ? skipped : 0;
      this.dropped += this.paint() ? 0 : 1;
      this.lastIndex = index;
    }
    this.count(now);
    this.moved(frame);
    if (ended) {
      this.ended();
    }
  }

  private stepEvery(now: number) {
    const { track, urls, loop } = this.model;
    if (now - this.start.time < 1000 / track.rate - 2) {
      return;
    }
    const inside = track.frames.filter((f) => f >= track.in && f <= track.out);
    const i = inside.indexOf(track.frames[this.index()]!);
    const last = i >= inside.length - 1;
    if (last && !loop) {
      this.ended();
      return;
    }
    const next = inside[last ? 0 : i + 1]!;
    const url = urls[indexAt(track.frames, next)]!;
    if (!this.store.get(url) && !this.store.failed(url)) {
      return; // Waits: every frame is shown.
    }
    this.start.time = now;
    this.shown = next;
    this.store.want(urls, this.index());
    this.paint();
    this.count(now);
    this.moved(next);
  }

  /** Keeps the times of the frames of the last second. */
  private count(now: number) {
    this.painted.push(now);
    this.painted = this.painted.filter((t) => now - t <= 1000);
    this.tell();
  }

  private tell() {
    const n = this.painted.length;
    const span = n > 1 ? this.painted[n - 1]! - this.painted[0]! : 0;
    this.report({
      rate: this.model.playing && span > 0 ? ((n - 1) * 1000) / span : null,
      dropped: this.dropped,
      ready: this.store.ready(),
    });
  }

  /** Paints the current frame; returns false if it is not there yet. */
  private paint(resize = false): boolean {
    const url = this.model.urls[this.index()];
    const bitmap = url ? this.store.get(url) : undefined;
    if (!this.model.playing) {
      this.tell();
    }
    if (!bitmap) {
      return false;
    }
    const ratio = window.devicePixelRatio || 1;
    const room = this.canvas.parentElement!.getBoundingClientRect();
    const k = this.model.fit
      ? Math.min((room.width * ratio) / bitmap.width, (room.height * ratio) / bitmap.height)
      : 1;
    const w = Math.max(1, Math.round(bitmap.width * k));
    const h = Math.max(1, Math.round(bitmap.height * k));
    if (resize || this.canvas.width !== w || this.canvas.height !== h) {
      this.canvas.width = w;
      this.canvas.height = h;
      this.canvas.style.width = `${w / ratio}px`;
      this.canvas.style.height = `${h / ratio}px`;
    }
    const g = this.canvas.getContext('2d')!;
    g.imageSmoothingEnabled = k < 1;
    g.imageSmoothingQuality = 'high';
    g.drawImage(bitmap, 0, 0, w, h);
    this.canvas.dataset.painted = String(this.model.track.frames[this.index()]);
    return true;
  }

  close() {
    cancelAnimationFrame(this.request);
    this.resized.disconnect();
    this.store.close();
  }
}
