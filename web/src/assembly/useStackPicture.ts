import { useEffect, useRef, useState } from 'react';
import { stackPicture, type Stack, type StackPicture } from '../api/client';

/** Longer side of a picture while something moves, and at rest, pixels. */
const MOVING = 640;
export const RESTING = 1280;

const REFINE_MS = 250;

export type Made = {
  url: string;
  /** Pixels of the longer side. */
  most: number;
  millis: number;
  error?: string;
};

/**
 * A picture of a stack that follows every change: one is asked for at a time, the newest next; when
 * nothing has moved for a while, a finer one.
 */
export function useStackPicture(
  stack: Stack | undefined,
  frame: number,
  show: StackPicture['show'],
  input: string | null,
  look: { view: StackPicture['view']; stops: number },
  /** Changes when files have. */
  stamp: string,
  most = RESTING,
): { made: Made | undefined; rate: number | undefined } {
  const [made, setMade] = useState<Made>();
  const [rate, setRate] = useState<number>();
  const worker = useRef<Worker>(null);
  useEffect(() => {
    worker.current = new Worker(setMade, setRate);
    return () => worker.current?.close();
  }, []);
  const { view, stops } = look;
  useEffect(() => {
    if (stack) {
      worker.current?.want({ stack, frame, most, show, input, view, stops });
    }
  }, [stack, frame, show, input, view, stops, stamp, most]);
  return { made, rate };
}

class Worker {
  private wanted?: StackPicture;
  private busy = false;
  private refine?: ReturnType<typeof setTimeout>;
  private readonly stop = new AbortController();
  private times: number[] = [];
  private url?: string;

  constructor(
    private readonly tell: (m: Made) => void,
    private readonly tellRate: (r: number | undefined) => void,
  ) {}

  want(p: StackPicture) {
    clearTimeout(this.refine);
    this.wanted = p;
    void this.next();
  }

  close() {
    clearTimeout(this.refine);
    this.stop.abort();
    if (this.url) {
      URL.revokeObjectURL(this.url);
    }
  }

  private async next() {
    if (this.busy || !this.wanted) {
      return;
    }
    this.busy = true;
    const p = this.wanted;
    this.wanted = undefined;
    await this.make({ ...p, most: Math.min(MOVING, p.most) });
    this.busy = false;
    // `want` may have been called meanwhile.
    if (this.wanted as StackPicture | undefined) {
      void this.next();
    } else if (p.most > MOVING) {
      this.refine = setTimeout(() => void this.make(p), REFINE_MS);
    }
  }

  private async make(p: StackPicture) {
    try {
      const { blob, millis } = await stackPicture(p, this.stop.signal);
      if (this.stop.signal.aborted) {
        return;
      }
      const url = URL.createObjectURL(blob);
      // The picture before must stay until this one can be shown.
      await loaded(url);
      const before = this.url;
      this.url = url;
      this.tell({ url, most: p.most, millis });
      if (before) {
        setTimeout(() => URL.revokeObjectURL(before), 1000);
      }
      this.count();
    } catch (e) {
      if (!this.stop.signal.aborted) {
        this.tell({ url: this.url ?? '', most: p.most, millis: 0, error: (e as Error).message });
      }
    }
  }

  /** Pictures of the last second. */
  private count() {
    const now = performance.now();
    this.times = [...this.times.filter((t) => now - t < 1000), now];
    this.tellRate(this.times.length > 2 ? this.times.length : undefined);
  }
}

async function loaded(url: string) {
  const image = new Image();
  image.src = url;
  await image.decode().catch(() => undefined);
}
