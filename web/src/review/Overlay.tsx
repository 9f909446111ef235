import type { PointerEvent } from 'react';
import type { Fault, Part, Remark } from '../api/client';
import type { Together } from '../picture/Player';
import { SafeAreas } from '../picture/Guides';
import { placeOf, Rectangle } from '../picture/Rectangle';
import { timecode } from '../shell/format';
import type { Guides } from './LookBar';
import type { Source } from './source';

/** What lies on the picture: marks, notes, the box that is drawn, guides, the wipe. */
export function Overlay({
  source,
  frame,
  faults,
  remarks,
  box,
  drawing,
  onBox,
  guides,
  wipe,
  names,
}: {
  source: Source;
  frame: number;
  faults: Fault[];
  remarks: Remark[];
  box: Part | undefined;
  drawing: boolean;
  onBox: (b: Part | undefined) => void;
  guides: Guides;
  wipe: { mode: Together; split: number; onSplit: (s: number) => void } | undefined;
  /** What the two pictures are called that are compared. */
  names: [string, string] | undefined;
}) {
  const at = source.at(frame);
  return (
    <>
      {guides.safe && <SafeAreas />}
      {guides.burn && (
        <span className="fig pointer-events-none absolute inset-x-2 bottom-2 flex justify-between text-white">
          <span className="bg-black/70 px-1.5">
            {source.title} {source.detail}
          </span>
          <span className="bg-black/70 px-1.5" data-testid="burn-in">
            {at.frame} · {timecode(at.frame, source.rate)}
          </span>
        </span>
      )}
      {faults.map((f, i) => (
        <i
          key={i}
          data-testid="mark"
          title={f.text}
          className="pointer-events-none absolute -m-1.5 border-2 border-mark p-1.5"
          style={placeOf(f)}
        />
      ))}
      {remarks.map(
        (r) =>
          r.width > 0 && (
            <span
              key={r.id}
              data-testid="noted"
              className="pointer-events-none absolute border border-dashed border-white"
              style={placeOf(r)}
            >
              <span className="absolute bottom-full left-0 max-w-60 truncate bg-black/70 px-1 text-white">
                {r.text}
              </span>
            </span>
          ),
      )}
      {wipe && names && (
        <Named mode={wipe.mode} split={wipe.split} onSplit={wipe.onSplit} names={names} />
      )}
      {drawing ? (
        <div className="absolute inset-0">
          <Rectangle part={box} label="Draw a box" onDraw={onBox} />
        </div>
      ) : (
        box && (
          <i
            data-testid="box"
            className="pointer-events-none absolute border-2 border-mark"
            style={placeOf(box)}
          />
        )
      )}
    </>
  );
}

const STEP = 0.02;

/** What is what, and the line of a wipe, which is moved. */
function Named({
  mode,
  split,
  onSplit,
  names,
}: {
  mode: Together;
  split: number;
  onSplit: (s: number) => void;
  names: [string, string];
}) {
  const label = 'pointer-events-none absolute top-2 bg-black/70 px-1.5 text-white';
  const move = (e: PointerEvent) => {
    const box = e.currentTarget.parentElement!.getBoundingClientRect();
    onSplit(Math.min(1, Math.max(0, (e.clientX - box.left) / box.width)));
  };
  return (
    <>
      <span className={`${label} left-2`}>{names[0]}</span>
      {mode === 'side by side' ? (
        <span className={`${label} left-[calc(100%+20px)] whitespace-nowrap`}>{names[1]}</span>
      ) : (
        <span className={`${label} right-2`}>{names[1]}</span>
      )}
      {mode === 'wipe' && (
        <div
          role="slider"
          tabIndex={0}
          aria-label={`Wipe between ${names[0]} and ${names[1]}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(100 * split)}
          aria-valuetext={`${Math.round(100 * split)} % ${names[0]}`}
          className="absolute inset-y-0 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
          style={{ left: `${100 * split}%` }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            move(e);
          }}
          onPointerMove={(e) => e.buttons > 0 && move(e)}
          onKeyDown={(e) => {
            const way = { ArrowLeft: -STEP, ArrowRight: STEP }[e.key];
            if (way) {
              e.preventDefault();
              e.stopPropagation();
              onSplit(Math.min(1, Math.max(0, split + way)));
            }
          }}
        >
          <i className="absolute inset-y-0 left-1/2 w-0.5 -translate-x-1/2 bg-white mix-blend-difference" />
        </div>
      )}
    </>
  );
}
