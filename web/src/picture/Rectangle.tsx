import { useState, type PointerEvent } from 'react';
import type { Part } from '../api/client';

/** Sides below which a rectangle is a slip of the hand. */
const SMALL = 0.02;

const percentOf = (v: number) => `${100 * v}%`;

/** Where a part of a picture is, in CSS. */
export const placeOf = (p: Part) => ({
  left: percentOf(p.x),
  top: percentOf(p.y),
  width: percentOf(p.width),
  height: percentOf(p.height),
});

/** A rectangle that is drawn on the picture below it. */
export function Rectangle({
  part,
  label,
  onDraw,
}: {
  part: Part | undefined;
  label: string;
  onDraw: (p: Part) => void;
}) {
  const [from, setFrom] = useState<{ x: number; y: number }>();
  const [to, setTo] = useState<{ x: number; y: number }>();
  const at = (e: PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (v: number) => Math.min(1, Math.max(0, v));
    return {
      x: share((e.clientX - box.left) / box.width),
      y: share((e.clientY - box.top) / box.height),
    };
  };
  const drawn =
    from && to
      ? {
          x: Math.min(from.x, to.x),
          y: Math.min(from.y, to.y),
          width: Math.abs(from.x - to.x),
          height: Math.abs(from.y - to.y),
        }
      : part;
  const end = () => {
    if (from && drawn && drawn.width > SMALL && drawn.height > SMALL) {
      onDraw(drawn);
    }
    setFrom(undefined);
    setTo(undefined);
  };
  return (
    <div
      aria-label={label}
      role="img"
      data-testid="part"
      className="h-full w-full cursor-crosshair touch-none"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom(at(e));
        setTo(at(e));
      }}
      onPointerMove={(e) => from && setTo(at(e))}
      onPointerUp={end}
    >
      {drawn && (
        <i className="pointer-events-none absolute border border-mark" style={placeOf(drawn)} />
      )}
    </div>
  );
}
