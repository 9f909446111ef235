import { useEffect, useRef } from 'react';
import { CanvasView, type Sheet } from './canvas';
import { drawSkyline, palette, type Column } from './skyline';

type Model = { columns: Column[] };

function draw({ g, width, height }: Sheet, { columns }: Model, seconds: number): boolean {
  const box = { x: 0, y: 0, width, height };
  // Drawn by place in the list, so that a sequence with a step fills the width.
  const listed = columns.map((c, i) => ({ ...c, frame: i }));
  drawSkyline(g, listed, box, 0, Math.max(0, columns.length - 1), palette(), seconds * 12);
  return columns.some((c) => c.state === 'RENDERING');
}

/** The picture of a strand: a column for each frame, as high as its render time. */
export function Skyline({ columns, className }: { columns: Column[]; className?: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = useRef<CanvasView<Model>>(null);
  useEffect(() => {
    view.current = new CanvasView<Model>(canvas.current!, draw, { columns: [] });
    return () => view.current?.close();
  }, []);
  useEffect(() => view.current?.update({ columns }), [columns]);
  const fresh = columns.filter((c) => c.state === 'FRESH').length;
  return (
    <canvas
      ref={canvas}
      className={className}
      role="img"
      aria-label={`Skyline: ${fresh} of ${columns.length} frames finished`}
    />
  );
}
