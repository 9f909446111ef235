/**
 * Lets work begin in the order in which it was asked for, so many at a time. Browsers have six
 * connections to a server: pictures that it takes a while to make must not take all of them, or
 * what somebody does next waits behind them.
 */
export class Turns {
  private busy = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(private readonly most: number) {}

  /** Does the work once it is its turn; work that is no longer wanted by then is never begun. */
  async take<T>(signal: AbortSignal, work: () => Promise<T>): Promise<T> {
    if (this.busy >= this.most) {
      await new Promise<void>((resolve) => this.waiting.push(resolve));
    } else {
      this.busy++;
    }
    try {
      signal.throwIfAborted();
      return await work();
    } finally {
      const next = this.waiting.shift();
      if (next) {
        next();
      } else {
        this.busy--;
      }
    }
  }
}
