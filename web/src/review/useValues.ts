import { useEffect, useState } from 'react';
import type { PixelValues } from '../api/client';
import { valuesAt } from '../api/review';
import type { Point } from '../picture/PlayerCanvas';
import type { Source } from './source';

const SETTLED_MS = 60;

export type Under = {
  /** Pixels of the full picture. */
  x: number;
  y: number;
  values: PixelValues[];
  /** What the screen shows there: red, green and blue, 0 to 255. */
  shown?: [number, number, number];
};

/** What all passes hold under the pointer; undefined if that is nowhere. */
export function useValues(
  source: Source,
  frame: number,
  point: Point | undefined,
  canvas: HTMLCanvasElement | null,
): Under | undefined {
  const [under, setUnder] = useState<Under>();
  const at = source.at(frame);
  const x = point ? Math.min(source.width - 1, Math.floor(point.x * source.width)) : -1;
  const y = point ? Math.min(source.height - 1, Math.floor(point.y * source.height)) : -1;
  const known = x >= 0 && y >= 0;
  useEffect(() => {
    if (!known) {
      return;
    }
    const stop = new AbortController();
    const wait = setTimeout(() => {
      valuesAt(at.key, at.frame, x, y, stop.signal).then(
        (values) => setUnder({ x, y, values, shown: shownAt(canvas, point!) }),
        () => setUnder(undefined), // The picture says what is wrong with the file.
      );
    }, SETTLED_MS);
    return () => {
      clearTimeout(wait);
      stop.abort();
    };
    // The point counts by its pixel.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [known, at.key, at.frame, x, y, canvas]);
  return known ? under : undefined;
}

function shownAt(canvas: HTMLCanvasElement | null, p: Point): Under['shown'] {
  const g = canvas?.getContext('2d');
  if (!g || !canvas!.width) {
    return undefined;
  }
  const x = Math.min(canvas!.width - 1, Math.floor(p.x * canvas!.width));
  const y = Math.min(canvas!.height - 1, Math.floor(p.y * canvas!.height));
  const [r, gr, b] = g.getImageData(x, y, 1, 1).data;
  return [r!, gr!, b!];
}
