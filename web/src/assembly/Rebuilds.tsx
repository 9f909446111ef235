import { useState } from 'react';
import { useRebuild, type Checked } from '../api/assembly';
import { urlOf } from '../api/client';
import { useLayers, useProduction, useRunStrands } from '../api/queries';
import { usePlace } from '../shell/address';
import { useCurrentShot } from '../shell/current';
import { usePlayhead } from '../shell/playhead';
import { useSettled } from '../shell/useSettled';

/** Below this parts are the beauty: half floats carry three digits. */
const EQUAL = 2e-3;

const share = (v: number) =>
  v === 0
    ? 'equal'
    : v < EQUAL
      ? `equal, ${v.toExponential(0)}`
      : `${(100 * v).toFixed(1)} % apart`;

const numbers = (v: number[]) => v.map((x) => x.toFixed(4)).join(' ');

/** Whether parts add up to the beauty, and layers to the whole. */
export function Rebuilds() {
  return (
    <section aria-label="Do they add up" className="px-4.5 pb-4">
      <Line name="Parts against beauty" checked="PARTS" />
      <Line name="Layers against whole" checked="LAYERS" />
    </section>
  );
}

/** The frame that was rendered at or before the playhead. */
function useWrittenFrame(shot: number | undefined, layer: number | undefined): number {
  const frame = useSettled(usePlayhead(), 400);
  const runs = useRunStrands().data;
  const run = runs?.find((r) => r.shotId === shot && r.layerId === layer && r.fresh > 0);
  const m = /^(\d+)-(\d+)(?:x(\d+))?/.exec(run?.frames ?? '');
  if (!m) {
    return frame;
  }
  const [first, last, step] = [Number(m[1]), Number(m[2]), Number(m[3] ?? 1)];
  const inside = Math.max(first, Math.min(last, frame));
  return first + Math.floor((inside - first) / step) * step;
}

function Line({ name, checked }: { name: string; checked: Checked }) {
  const [open, setOpen] = useState(false);
  const production = useProduction().data?.id;
  const shot = useCurrentShot();
  const layers = useLayers().data;
  const named = usePlace()?.layer;
  const layer = layers?.find((l) => l.name === named) ?? layers?.[0];
  const frame = useWrittenFrame(shot?.id, layer?.id);
  const { data, error } = useRebuild(shot?.id, layer?.id, frame, checked);
  const why = error?.message ?? data?.reason;
  const query = {
    production: production!,
    shot: shot?.id ?? 0,
    layer: layer?.id ?? 0,
    frame,
    checked,
  };
  return (
    <div className="border-b border-line py-1.5">
      <button
        className="flex min-h-6 w-full items-baseline justify-between gap-3 text-left"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <span className="text-t2">{name}</span>
        <span className="fig">{why ? 'not rendered' : data ? share(data.apart) : '…'}</span>
      </button>
      {open && why && <p className="text-xs text-t2">{why}</p>}
      {open && data && !why && (
        <div className="pb-1 text-xs text-t2">
          <img
            src={urlOf('/api/assemblies/rebuild/picture', { query })}
            alt={`Where ${name.toLowerCase()} differ, 16 times as bright`}
            className="mt-1 w-full bg-black"
          />
          <p className="mt-1">Frame {frame}, the difference 16 times as bright.</p>
          <p>
            Worst pixel{' '}
            <span className="fig">
              {data.x}, {data.y}
            </span>
            : <span className="fig">{numbers(data.whole)}</span> at once,{' '}
            <span className="fig">{numbers(data.rebuilt)}</span> together.
          </p>
        </div>
      )}
    </div>
  );
}
