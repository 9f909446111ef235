import { useEffect, useMemo, useRef, useState } from 'react';
import type { LiveUpdate, ObjectsSeen, Part, PartOfPicture, Shown } from '../api/client';
import { useObjectsSeen, useRegion } from '../api/layers';
import { useProduction } from '../api/queries';
import { layersOf, useChangeView, useStrandParts, type StrandView } from '../api/strands';
import { Rectangle } from '../picture/Rectangle';
import { StrandPicture } from '../picture/StrandPicture';
import { percent } from '../shell/format';
import { usePlayhead } from '../shell/playhead';
import { useSay } from '../shell/useSay';
import { useSettled } from '../shell/useSettled';
import { draw, drawnRegion, type Region } from './region';
import type { Item } from '../shell/tree';

type View = Exclude<Shown, 'BEAUTY'>;

/** The picture of the layer alone, or of all that are on; objects are shown and chosen in it. */
export function LayerPicture({
  strand,
  items,
  pointed,
  chosen,
  onChoose,
  drawing,
}: {
  strand: StrandView;
  items: Item[];
  /** The node that the pointer is over in the table. */
  pointed: number | undefined;
  chosen: ReadonlySet<number>;
  onChoose: (nodes: ReadonlySet<number>) => void;
  /** True to draw the layer's region. */
  drawing: boolean;
}) {
  const { shot, layer } = strand;
  const frame = usePlayhead();
  const parts = useStrandParts();
  const [view, setView] = useState<View>('ALONE');
  const on = parts ? layersOf(shot, parts) : [];
  const merges = view === 'MERGED' || view === 'APART';
  const also = merges ? JSON.stringify(on.map((l) => [l.id, l.version])) : '';
  const seen = useObjectsSeen(
    shot.id,
    useSettled(frame),
    JSON.stringify([
      shot.camera,
      shot.width,
      shot.height,
      shot.scale,
      shot.revisionId,
      shot.settings,
    ]),
  );
  const nodes = useMemo(() => seen && decode(seen), [seen]);
  const region = layer.document.layer.region;
  const part = useRegion(
    shot.id,
    layer.id,
    useSettled(frame),
    region && !merges ? JSON.stringify([region, shot]) : undefined,
  );
  const [over, setOver] = useState<number>();
  const lit = useMemo(
    () => subtrees(items, pointed === undefined ? chosen : new Set([pointed])),
    [items, pointed, chosen],
  );
  const change = useChangeView(strand);
  const put = useSay();
  const rate = useProduction().data?.frameRate ?? 24;
  const drawn = (p: Part) => {
    const l = layer.document.layer;
    const keys = draw(region?.drawn ?? [], frame / rate, p);
    void put(change.layer({ layer: { ...l, region: drawnRegion(keys, region) } }), 'region');
  };
  const nameOf = (node: number) => items.find((i) => i.object.node === node)?.object.name;
  const views: { view: View; name: string }[] = [
    { view: 'ALONE', name: `${layer.name} alone` },
    { view: 'ALPHA', name: 'its alpha' },
    { view: 'MERGED', name: 'all merged' },
    { view: 'APART', name: 'merged against whole' },
  ];
  return (
    <section aria-label="Picture" className="flex min-h-0 min-w-0 flex-col bg-well px-4.5">
      <nav aria-label="What is shown" className="flex h-10 shrink-0 items-center gap-5">
        {views.map((v) => (
          <button
            key={v.view}
            aria-current={view === v.view}
            className={`min-h-6 truncate ${view === v.view ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
            onClick={() => setView(v.view)}
          >
            {v.name}
          </button>
        ))}
      </nav>
      <StrandPicture
        key={view}
        strand={strand}
        frame={frame}
        shown={view}
        also={also}
        note={merges ? apartText : undefined}
        over={
          <>
            {region && !merges && part && <RegionFrame part={part} region={region} />}
            {drawing && region && region.drawn.length > 0 && (
              <Rectangle
                part={undefined}
                label="The region of the layer; draw another rectangle"
                onDraw={drawn}
              />
            )}
            {!drawing && seen && nodes && (
              <Overlay
                seen={seen}
                nodes={nodes}
                lit={lit}
                onPoint={setOver}
                onPress={(node, more) => {
                  if (node >= 0) {
                    onChoose(new Set(more ? [...chosen, node] : [node]));
                  }
                }}
              />
            )}
          </>
        }
      />
      <div className="flex h-14 shrink-0 items-end justify-between gap-4 pb-3">
        <span className="truncate text-t2" data-testid="layers-shown">
          {merges ? `${on.map((l) => l.name).join(' + ') || 'no layer is on'}` : ''}
          {over !== undefined && over >= 0 && !merges && nameOf(over)}
        </span>
        <span className="fig shrink-0 text-t2">
          {shot.name} · frame {frame}
        </span>
      </div>
    </section>
  );
}

/** The part of the picture that is rendered. */
function RegionFrame({ part, region }: { part: PartOfPicture; region: Region }) {
  const percentOf = (v: number, of: number) => `${(100 * v) / of}%`;
  return (
    <div
      data-testid="region"
      className="pointer-events-none absolute border border-dashed border-mark"
      style={{
        left: percentOf(part.x, part.fullWidth),
        top: percentOf(part.y, part.fullHeight),
        width: percentOf(part.width, part.fullWidth),
        height: percentOf(part.height, part.fullHeight),
      }}
    >
      <span className="fig absolute top-full left-0 mt-1 bg-well/70 px-1 whitespace-nowrap text-mark">
        {region.follow.length === 0 ? 'region' : `region follows ${region.follow.join(', ')}`} ·{' '}
        {percent(part.share)} of the picture
      </span>
    </div>
  );
}

/** With fewer samples nobody can tell whether pictures are equal. */
const FEWEST = 4;

/** How far merged layers are from the picture that is rendered at once, in words. */
export function apartText({ apart, noiseApart, samples }: LiveUpdate): string {
  if (apart === null || noiseApart === null || samples < FEWEST) {
    return '';
  }
  const alike = apart <= noiseApart * 1.15 + 0.002;
  return `${percent(apart)} apart, ${alike ? 'within' : 'beyond'} the noise of ${percent(noiseApart)}`;
}

function decode({ width, height, runs }: ObjectsSeen): Int32Array {
  const all = new Int32Array(width * height);
  let at = 0;
  for (let k = 0; k < runs.length; k += 2) {
    all.fill(runs[k]!, at, at + runs[k + 1]!);
    at += runs[k + 1]!;
  }
  return all;
}

/** Nodes with all that is below them. */
function subtrees(items: Item[], some: ReadonlySet<number>): ReadonlySet<number> {
  const all = new Set<number>();
  for (const i of items) {
    if (some.has(i.object.node)) {
      for (let k = i.at; k < i.end; k++) {
        all.add(items[k]!.object.node);
      }
    }
  }
  return all;
}

/** Shows objects in the picture, and tells which one the pointer is over. */
function Overlay({
  seen,
  nodes,
  lit,
  onPoint,
  onPress,
}: {
  seen: ObjectsSeen;
  nodes: Int32Array;
  lit: ReadonlySet<number>;
  onPoint: (node: number | undefined) => void;
  onPress: (node: number, more: boolean) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = seen;
  useEffect(() => {
    const g = canvas.current?.getContext('2d');
    if (!g) {
      return;
    }
    const image = g.createImageData(width, height);
    const inside = (x: number, y: number) =>
      x >= 0 && y >= 0 && x < width && y < height && lit.has(nodes[y * width + x]!);
    for (let y = 0; lit.size > 0 && y < height; y++) {
      for (let x = 0; x < width; x++) {
        if (!inside(x, y)) {
          continue;
        }
        const rim =
          !inside(x - 1, y) || !inside(x + 1, y) || !inside(x, y - 1) || !inside(x, y + 1);
        image.data.set([201, 220, 60, rim ? 255 : 40], (y * width + x) * 4);
      }
    }
    g.putImageData(image, 0, 0);
  }, [nodes, lit, width, height]);
  const at = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const x = Math.floor(((e.clientX - box.left) / box.width) * width);
    const y = Math.floor(((e.clientY - box.top) / box.height) * height);
    return nodes[
      Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))
    ]!;
  };
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      aria-label="Objects in the picture; press to choose one"
      className="h-full w-full cursor-crosshair"
      onPointerMove={(e) => onPoint(at(e))}
      onPointerLeave={() => onPoint(undefined)}
      onPointerDown={(e) => onPress(at(e), e.shiftKey || e.ctrlKey)}
    />
  );
}
