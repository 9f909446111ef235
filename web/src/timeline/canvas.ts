/** What is drawn on, and how large it is, in CSS pixels. */
export type Sheet = { g: CanvasRenderingContext2D; width: number; height: number };

/** Sizes a canvas to its box in device pixels and returns a context in CSS pixels. */
function sheet(canvas: HTMLCanvasElement, width: number, height: number): Sheet {
  const ratio = window.devicePixelRatio || 1;
  const w = Math.round(width * ratio);
  const h = Math.round(height * ratio);
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w;
    canvas.height = h;
  }
  const g = canvas.getContext('2d')!;
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  g.clearRect(0, 0, width, height);
  return { g, width, height };
}

/** Redraws a canvas when its model, its size or the theme changes, or while it moves. */
export class CanvasView<M> {
  private request = 0;
  /** As it was told last: to ask the page would have it laid out anew for each canvas. */
  private size: { width: number; height: number } | undefined;
  private readonly resized = new ResizeObserver(([e]) => {
    this.size = e!.contentRect;
    this.redraw();
  });
  private readonly themed = new MutationObserver(() => this.redraw());

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly draw: (to: Sheet, model: M, seconds: number) => boolean,
    private model: M,
  ) {
    this.resized.observe(canvas);
    this.themed.observe(document.documentElement, { attributeFilter: ['data-theme'] });
    if (document.fonts.status !== 'loaded') {
      void document.fonts.ready.then(() => this.redraw());
    }
  }

  update(model: M) {
    this.model = model;
    this.redraw();
  }

  private redraw() {
    cancelAnimationFrame(this.request);
    if (!this.size) {
      return;
    }
    const { width, height } = this.size;
    this.request = requestAnimationFrame((t) => {
      if (this.draw(sheet(this.canvas, width, height), this.model, t / 1000)) {
        this.redraw();
      }
    });
  }

  close() {
    this.size = undefined;
    cancelAnimationFrame(this.request);
    this.resized.disconnect();
    this.themed.disconnect();
  }
}
