import { BUDGET_BYTES, FrameStore } from './FrameStore';
import { frameAfter, indexAt, type Repeat, type Track } from './playback';

/** How two pictures are shown together. */
export type Together = 'wipe' | 'side by side' | 'flicker' | 'difference';

/** Another sequence that is played in step. */
export type Against = {
  /** A picture for each of the track's frames; undefined where it has none. */
  urls: (string | undefined)[];
  mode: Together;
  /** Where the wipe stands, 0 to 1. */
  split: number;
  /** How many times as bright a difference is shown. */
  gain: number;
};

/** What the player is told. */
export type PlayerModel = {
  track: Track;
  /** A picture for each of the track's frames. */
  urls: string[];
  frame: number;
  playing: boolean;
  repeat: Repeat;
  /** True to show every frame, however long it takes; false to keep real time. */
  every: boolean;
  /** Times the size of the picture's pixels; 0 to fit it in. */
  zoom: number;
  against?: Against;
};

/** What the player tells. */
export type PlayerReport = {
  /** Frames a second that were shown; null while it rests. */
  rate: number | null;
  dropped: number;
  /** Frames that play without waiting. */
  cached: number[];
  /** Bytes of the pictures that are kept, and the most that are. */
  bytes: number;
  most: number;
  /** True if the picture of the current frame cannot be had. */
  failed: boolean;
  /** How far the two pictures are apart, share of white; null if they are not both there. */
  apart: number | null;
};

const FLICKER_MS = 400;

/** Between the two of a pair, pixels. */
const GAP = 12;

/** Width at which pictures are compared for the number. */
const COMPARED = 320;

/** Plays a sequence on a canvas, alone or in step with another. */
export class Player {
  private readonly store = new FrameStore(() => this.paint());
  private readonly others = new FrameStore(() => this.paint(), BUDGET_BYTES / 2);
  private request = 0;
  private turn: ReturnType<typeof setInterval> | undefined;
  private second = false;
  private start = { time: 0, frame: 0 };
  private way: 1 | -1 = 1;
  private shown = -1;
  private painted: number[] = [];
  private dropped = 0;
  private lastIndex = -1;
  private otherUrls: string[] = [];
  private apart: { of: string; value: number } | undefined;
  private readonly resized = new ResizeObserver(() => this.paint(true));

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private model: PlayerModel,
    private readonly moved: (frame: number) => void,
    private readonly ended: () => void,
    private readonly report: (r: PlayerReport) => void,
    private readonly seen: (canvas: HTMLCanvasElement) => void = () => undefined,
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
      (!was.playing ||
        jumped ||
        was.track !== model.track ||
        was.every !== model.every ||
        was.repeat !== model.repeat)
    ) {
      this.start = { time: performance.now(), frame: model.frame };
      this.lastIndex = -1;
      if (!was.playing) {
        this.dropped = 0;
        this.painted = [];
        this.way = 1;
      }
    }
    this.shown = model.frame;
    this.want();
    this.flicker();
    const stepped =
      model.playing &&
      was.playing &&
      !jumped &&
      was.urls === model.urls &&
      was.zoom === model.zoom &&
      was.against === model.against;
    if (!stepped) {
      this.paint(true); // A step of its own was painted when it was made.
    }
    if (model.playing) {
      this.tick();
    } else {
      cancelAnimationFrame(this.request);
      this.tell();
    }
  }

  private want() {
    const { urls, against } = this.model;
    this.store.want(urls, this.index());
    const other = against?.urls[this.index()];
    const some = against ? against.urls.filter((u): u is string => !!u) : [];
    if (some.join() !== this.otherUrls.join()) {
      this.otherUrls = some;
    }
    this.others.want(this.otherUrls, Math.max(0, other ? some.indexOf(other) : 0));
  }

  private flicker() {
    const on = this.model.against?.mode === 'flicker';
    if (!on) {
      clearInterval(this.turn);
      this.turn = undefined;
      this.second = false;
    } else {
      this.turn ??= setInterval(() => {
        this.second = !this.second;
        this.paint();
      }, FLICKER_MS);
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
    const { track, repeat } = this.model;
    const { frame, ended, way } = frameAfter(
      track,
      Math.max(track.in, Math.min(track.out, this.start.frame)),
      (now - this.start.time) / 1000,
      repeat,
      this.way,
    );
    if (frame === this.shown && !ended) {
      return;
    }
    this.shown = frame;
    const index = this.index();
    this.want();
    if (index !== this.lastIndex) {
      const skipped = way * (index - this.lastIndex) - 1;
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
    const { track, urls, repeat } = this.model;
    if (now - this.start.time < 1000 / track.rate - 2) {
      return;
    }
    const inside = track.frames.filter((f) => f >= track.in && f <= track.out);
    const i = inside.indexOf(track.frames[this.index()]!);
    const last = this.way > 0 ? i >= inside.length - 1 : i <= 0;
    if (last && repeat === 'once') {
      this.ended();
      return;
    }
    if (last && repeat === 'bounce') {
      this.way = this.way > 0 ? -1 : 1;
    }
    const loops = last && repeat === 'loop';
    const next = inside[loops ? 0 : Math.max(0, Math.min(inside.length - 1, i + this.way))]!;
    const url = urls[indexAt(track.frames, next)]!;
    if (!this.store.get(url) && !this.store.failed(url)) {
      return; // Waits: every frame is shown.
    }
    this.start.time = now;
    this.shown = next;
    this.want();
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
    const { track, urls } = this.model;
    this.report({
      rate: this.model.playing && span > 0 ? ((n - 1) * 1000) / span : null,
      dropped: this.dropped,
      cached: this.store.ready().map((i) => track.frames[i]!),
      bytes: this.store.used() + this.others.used(),
      most: this.model.against ? 1.5 * BUDGET_BYTES : BUDGET_BYTES,
      failed: this.store.failed(urls[this.index()] ?? ''),
      apart: this.apart?.value ?? null,
    });
  }

  /** Paints the current frame; returns false if it is not there yet. */
  private paint(resize = false): boolean {
    const { against, zoom, urls } = this.model;
    const url = urls[this.index()];
    const bitmap = url ? this.store.get(url) : undefined;
    const otherUrl = against?.urls[this.index()];
    const other = otherUrl ? this.others.get(otherUrl) : undefined;
    if (!this.model.playing) {
      this.compare(url, bitmap, otherUrl, other);
      this.tell();
    }
    if (!bitmap) {
      return false;
    }
    const pair = against?.mode === 'side by side';
    const ratio = window.devicePixelRatio || 1;
    const room = this.canvas.parentElement!.getBoundingClientRect();
    const width = (pair ? (room.width - GAP) / 2 : room.width) * ratio;
    // Never so small that nothing is left of it.
    const k = zoom ? 1 : Math.min(width / bitmap.width, (room.height * ratio) / bitmap.height);
    const w = Math.max(1, Math.round(bitmap.width * k));
    const h = Math.max(1, Math.round(bitmap.height * k));
    const whole = pair ? 2 * w + GAP : w;
    if (resize || this.canvas.width !== whole || this.canvas.height !== h) {
      this.canvas.width = whole;
      this.canvas.height = h;
      this.canvas.style.width = `${(whole * (zoom || 1)) / ratio}px`;
      this.canvas.style.height = `${(h * (zoom || 1)) / ratio}px`;
      this.canvas.style.imageRendering = zoom > 1 ? 'pixelated' : 'auto';
    }
    const g = this.canvas.getContext('2d', { willReadFrequently: true })!;
    g.imageSmoothingEnabled = k < 1;
    // What moves is not looked at pixel by pixel.
    g.imageSmoothingQuality = this.model.playing ? 'low' : 'high';
    this.draw(g, bitmap, other, w, h);
    this.canvas.dataset.painted = String(this.model.track.frames[this.index()]);
    this.seen(this.canvas);
    return true;
  }

  private draw(
    g: CanvasRenderingContext2D,
    a: ImageBitmap,
    b: ImageBitmap | undefined,
    w: number,
    h: number,
  ) {
    const { against } = this.model;
    if (!against) {
      g.drawImage(a, 0, 0, w, h);
      return;
    }
    if (against.mode === 'side by side') {
      g.clearRect(0, 0, this.canvas.width, h);
      g.drawImage(a, 0, 0, w, h);
      if (b) {
        g.drawImage(b, w + GAP, 0, w, h);
      }
      return;
    }
    g.drawImage(against.mode === 'flicker' && this.second && b ? b : a, 0, 0, w, h);
    if (against.mode === 'wipe' && b) {
      g.save();
      g.beginPath();
      g.rect(against.split * w, 0, w, h);
      g.clip();
      g.drawImage(b, 0, 0, w, h);
      g.restore();
    }
    if (against.mode === 'difference') {
      g.save();
      g.globalCompositeOperation = 'difference';
      if (b) {
        g.drawImage(b, 0, 0, w, h);
      }
      g.globalCompositeOperation = 'copy';
      g.filter = `brightness(${against.gain})`;
      g.drawImage(this.canvas, 0, 0);
      g.restore();
    }
  }

  /** Finds how far the pictures of the frame it rests at are apart. */
  private compare(
    aUrl: string | undefined,
    a: ImageBitmap | undefined,
    bUrl: string | undefined,
    b: ImageBitmap | undefined,
  ) {
    if (!a || !b) {
      this.apart = undefined;
      return;
    }
    const of = `${aUrl} ${bUrl}`;
    if (this.apart?.of === of) {
      return;
    }
    const w = Math.min(COMPARED, a.width);
    const h = Math.max(1, Math.round((w * a.height) / a.width));
    const [x, y] = [a, b].map((bitmap) => {
      const g = new OffscreenCanvas(w, h).getContext('2d', { willReadFrequently: true })!;
      g.drawImage(bitmap, 0, 0, w, h);
      return g.getImageData(0, 0, w, h).data;
    }) as [Uint8ClampedArray, Uint8ClampedArray];
    let sum = 0;
    for (let i = 0; i < x.length; i++) {
      sum += Math.abs(x[i]! - y[i]!);
    }
    // Alpha is the same in both.
    this.apart = { of, value: sum / (3 * 255 * w * h) };
  }

  close() {
    cancelAnimationFrame(this.request);
    clearInterval(this.turn);
    this.resized.disconnect();
    this.store.close();
    this.others.close();
  }
}
