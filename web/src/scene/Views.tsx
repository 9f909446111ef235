import { useRef, useState, type ReactNode, type Ref } from 'react';
import type { Vector3 } from 'three';
import { Choice } from '../shell/Choice';
import { count } from '../shell/format';
import { useKeys } from '../shell/keys';
import { useProduction } from '../api/queries';
import { usePlayhead } from '../shell/playhead';
import type { Look } from '../space/navigate';
import { SpaceView, type CameraPath, type SpaceHandle } from '../space/SpaceView';
import type { ShapeData } from '../space/useSpace';
import { useWork } from './work';

const LOOKS: { value: string; label: string }[] = [
  { value: 'free', label: 'free view' },
  { value: 'front', label: 'from the front' },
  { value: 'side', label: 'from the side' },
  { value: 'top', label: 'from above' },
];

/** From where a view looks: `free`, along an axis, or `through` and the name of a camera. */
export type Seen = { look: Look; camera?: string };

/** One view or two of the scene, with what can be asked of them. */
export function Views({
  tabs,
  shapes,
  seen,
  onSeen,
  path,
  onDragKey,
  onHandle,
  left,
  onLeft,
  banner,
  playing,
  onPlay,
}: {
  tabs: ReactNode;
  shapes: { moving: ShapeData | undefined; full: ShapeData | undefined };
  seen: Seen[];
  onSeen: (seen: Seen[]) => void;
  path: CameraPath | undefined;
  onDragKey: (frame: number, by: Vector3) => void;
  onHandle: (h: SpaceHandle | null, view: number) => void;
  /** True if the first view has left the camera that it looks through. */
  left: boolean;
  onLeft: (left: boolean) => void;
  banner: ReactNode;
  playing: boolean;
  onPlay: () => void;
}) {
  const w = useWork();
  const frame = usePlayhead();
  const production = useProduction().data;
  const aspect = production ? production.width / production.height : 16 / 9;
  const handles = useRef<(SpaceHandle | null)[]>([]);
  const [used, setUsed] = useState(0);
  const { space } = w;
  const view = Math.min(used, seen.length - 1);
  const hold =
    (i: number): Ref<SpaceHandle> =>
    (h) => {
      handles.current[i] = h;
      if (i === view) {
        onHandle(h, i);
      }
    };
  useKeys((e) => {
    const done = {
      a: () => handles.current[view]?.frameAll(),
      c: () => handles.current[view]?.frameChosen(),
      ' ': onPlay,
    }[e.key];
    done?.();
    return !!done;
  });
  if (!space) {
    return (
      <section aria-label="View" className="bg-well">
        <div className="flex h-10 items-center px-4.5">{tabs}</div>
        <p className="grid h-3/4 place-items-center text-t2">The scene is being read …</p>
      </section>
    );
  }
  const options = [
    ...LOOKS,
    ...space.cameras.map((c) => ({ value: `through ${c.name}`, label: `through ${c.name}` })),
  ];
  const node = (name: string | undefined) =>
    [...space.cameras, ...space.lights].find((c) => c.name === name)?.node ?? w.node(name);
  const change = (i: number, value: string) => {
    const camera = value.startsWith('through ') ? value.slice('through '.length) : undefined;
    onLeft(false);
    onSeen(
      seen.map((s, k) =>
        k === i ? (camera ? { look: 'through', camera } : { look: value as Look }) : s,
      ),
    );
  };
  return (
    <section aria-label="View" className="flex min-h-0 flex-col bg-well">
      <div className="flex h-10 items-center gap-5 px-4.5">
        {tabs}
        <span className="ml-auto flex items-center gap-4 text-t2">
          <button
            className="min-h-6 hover:text-t1"
            title="a"
            onClick={() => handles.current[view]?.frameAll()}
          >
            Frame all
          </button>
          <button
            className="min-h-6 hover:text-t1 disabled:text-t3"
            title="c"
            disabled={!w.chosen}
            onClick={() => handles.current[view]?.frameChosen()}
          >
            Frame chosen
          </button>
          <button
            className="min-h-6 hover:text-t1"
            aria-pressed={seen.length === 2}
            onClick={() => onSeen(seen.length === 2 ? [seen[0]!] : [seen[0]!, { look: 'top' }])}
          >
            {seen.length === 2 ? 'One view' : 'Two views'}
          </button>
          <button className="min-h-6 w-10 text-left hover:text-t1" title="space" onClick={onPlay}>
            {playing ? 'Stop' : 'Play'}
          </button>
        </span>
      </div>
      <div className={`grid min-h-0 flex-1 gap-px ${seen.length === 2 ? 'grid-cols-2' : ''}`}>
        {seen.map((s, i) => (
          <div
            key={i}
            className="relative min-h-0 min-w-0"
            onPointerDownCapture={() => {
              setUsed(i);
              onHandle(handles.current[i] ?? null, i);
            }}
          >
            <SpaceView
              handle={hold(i)}
              label={`The scene, ${s.camera ? `through ${s.camera}` : LOOKS.find((l) => l.value === s.look)!.label}`}
              space={space}
              moving={shapes.moving}
              full={shapes.full}
              poses={w.poses}
              bent={w.bent}
              frame={frame}
              look={s.look}
              through={s.camera}
              aspect={aspect}
              chosen={node(w.chosen)}
              onChoose={(n) => w.choose(w.nameOf(n))}
              path={path}
              onDragKey={onDragKey}
              onLeave={() => onLeft(i === 0)}
            />
            <div className="absolute top-1.5 left-3 rounded-sm bg-well/70 px-2 whitespace-nowrap [&_button]:max-w-none">
              <Choice
                label="Look"
                value={s.camera ? `through ${s.camera}` : s.look}
                options={options}
                onChange={(v) => change(i, v)}
              />
            </div>
          </div>
        ))}
      </div>
      <div className="flex min-h-9 items-center justify-between gap-4 px-4.5 text-t2">
        {left ? banner : <Shown />}
      </div>
    </section>
  );
}

/** How much of the scene is drawn. */
function Shown() {
  const { space } = useWork();
  return (
    <>
      <span>drag to orbit, with the right button to shift, wheel to come nearer</span>
      {space && (
        <span className="fig" data-testid="space-shown">
          {count(space.triangles)} triangles
          {space.shown === 'simplified' && ', shown simplified'}
          {space.shown === 'boxes' && ': too many for this view, so boxes are shown'}
        </span>
      )}
    </>
  );
}
