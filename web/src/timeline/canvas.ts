/** Sizes a canvas to its box in device pixels and returns a context in CSS pixels. */
export function context(canvas: HTMLCanvasElement): CanvasRenderingContext2D {
  const ratio = window.devicePixelRatio || 1;
  const w = Math.round(canvas.clientWidth * ratio);
  const h = Math.round(canvas.clientHeight * ratio);
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w;
    canvas.height = h;
  }
  const g = canvas.getContext('2d')!;
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  g.clearRect(0, 0, canvas.clientWidth, canvas.clientHeight);
  return g;
}

/** Redraws a canvas when its model, its size or the theme changes, or while it moves. */
export class CanvasView<M> {
  private request = 0;
  private closed = false;
  private readonly resized = new ResizeObserver(() => this.redraw());
  private readonly themed = new MutationObserver(() => this.redraw());

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly draw: (g: CanvasRenderingContext2D, model: M, seconds: number) => boolean,
    private model: M,
  ) {
    this.resized.observe(canvas);
    this.themed.observe(document.documentElement, { attributeFilter: ['data-theme'] });
    void document.fonts.ready.then(() => this.redraw());
    this.redraw();
  }

  update(model: M) {
    this.model = model;
    this.redraw();
  }

  private redraw() {
    cancelAnimationFrame(this.request);
    if (this.closed) {
      return;
    }
    this.request = requestAnimationFrame((t) => {
      if (this.draw(context(this.canvas), this.model, t / 1000)) {
        this.redraw();
      }
    });
  }

  close() {
    this.closed = true;
    cancelAnimationFrame(this.request);
    this.resized.disconnect();
    this.themed.disconnect();
  }
}
