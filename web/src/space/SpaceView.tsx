import { Canvas, useFrame, useThree } from '@react-three/fiber';
import {
  useEffect,
  useImperativeHandle,
  useMemo,
  useRef,
  useState,
  type ReactNode,
  type Ref,
} from 'react';
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  Matrix4,
  Plane,
  Quaternion,
  Raycaster,
  Vector2,
  Vector3,
  type Camera,
} from 'three';
import { useThemeName } from '../shell/theme';
import { gateOf, Navigator, type Look, type ViewPose } from './navigate';
import { matrixAt, placeOf, viewOf, World } from './World';
import type { Bent, Poses, ShapeData, Space } from './useSpace';

/** What a view can be asked for. */
export type SpaceHandle = {
  frameAll: () => void;
  frameChosen: () => void;
  pose: () => ViewPose;
  view: () => { orthographic: boolean; view: number };
};

/** A camera's way: where it is at frames, and the keys on it. */
export type CameraPath = {
  camera: string;
  /** Frames of its keys. */
  keys: number[];
  first: number;
  last: number;
  /** Frames at which its speed jerks. */
  jerks: number[];
};

type Props = {
  space: Space;
  moving: ShapeData | undefined;
  full: ShapeData | undefined;
  poses: Poses | undefined;
  bent: Bent | undefined;
  frame: number;
  look: Look;
  /** The camera that is looked through. */
  through: string | undefined;
  /** Of the camera's picture. */
  aspect: number;
  chosen: number | undefined;
  onChoose: (node: number | undefined) => void;
  path: CameraPath | undefined;
  /** Hears that a key was dragged, by how much in the world. */
  onDragKey: (frame: number, by: Vector3) => void;
  /** Hears that the view has left the camera that it looked through. */
  onLeave: () => void;
  label: string;
  handle?: Ref<SpaceHandle>;
  /** The angle in degrees, or the height in metres, to see in place of the camera's own. */
  angle?: number | undefined;
  /** What lies over the camera's picture. */
  over?: ReactNode;
  /** True for nothing but the scene: no grid, cameras, lights and names. */
  bare?: boolean;
};

/** Pixels around a key in which it is taken hold of. */
const REACH = 10;

/** Share of the pixels that are drawn while the view moves. */
const COARSE = 0.55;

function colours() {
  const style = getComputedStyle(document.documentElement);
  const of = (name: string) => new Color(style.getPropertyValue(name).trim() || '#888');
  return {
    well: of('--well'),
    line: of('--line'),
    t1: of('--t1'),
    t3: of('--t3'),
    mark: of('--mark'),
    bad: of('--bad'),
  };
}

/** A view of the scene: it is moved by the pointer, and shows where cameras and lights are. */
export function SpaceView(props: Props) {
  const well = useRef<HTMLDivElement>(null);
  const labels = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 1, height: 1 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => {
      const { width, height } = e!.contentRect;
      setSize({ width, height });
    });
    watch.observe(well.current!);
    return () => watch.disconnect();
  }, []);
  const gate = gateOf(size.width, size.height, props.aspect);
  return (
    <div
      ref={well}
      className="relative h-full min-h-0 w-full overflow-hidden bg-well"
      role="img"
      aria-label={props.label}
      data-testid="space"
      data-whole={
        props.full !== undefined &&
        props.poses !== undefined &&
        (props.space.bent === 0 || props.bent !== undefined)
      }
    >
      <Canvas
        frameloop="demand"
        dpr={1}
        gl={{ antialias: false, alpha: false, powerPreference: 'high-performance' }}
        onContextMenu={(e) => e.preventDefault()}
      >
        <Inside {...props} labels={labels} />
      </Canvas>
      {props.look === 'through' && (
        <div
          className="pointer-events-none absolute top-1/2 left-1/2 -translate-1/2 border border-t2 shadow-[0_0_0_4000px_color-mix(in_srgb,var(--well)_60%,transparent)]"
          style={gate}
        >
          {props.over}
        </div>
      )}
      <div ref={labels} className="pointer-events-none absolute inset-0 overflow-hidden" />
    </div>
  );
}

function Inside({
  space,
  moving,
  full,
  poses,
  bent,
  frame,
  look,
  through,
  aspect,
  chosen,
  onChoose,
  path,
  onDragKey,
  onLeave,
  handle,
  angle,
  bare = false,
  labels,
}: Props & { labels: React.RefObject<HTMLDivElement | null> }) {
  const { gl, set, size, invalidate, setDpr } = useThree();
  const world = useMemo(() => new World(space), [space]);
  const said = useRef({ onLeave, onChoose, onDragKey });
  useEffect(() => {
    said.current = { onLeave, onChoose, onDragKey };
  });
  // A view keeps its place whatever it shows.
  const [navigator] = useState(() => new Navigator(gl.domElement));
  const current = useRef<World>(undefined);
  useEffect(() => {
    current.current = world;
    invalidate();
    return () => world.close();
  }, [world, invalidate]);
  useEffect(() => {
    setDpr(window.devicePixelRatio);
    navigator.listen({
      camera: (c) => {
        set({ camera: c as never });
        invalidate();
      },
      change: () => invalidate(),
      moving: (now) => {
        current.current?.moves(now);
        setDpr(now ? COARSE : window.devicePixelRatio);
        invalidate();
      },
      left: () => said.current.onLeave(),
    });
    return () => navigator.close();
  }, [navigator, set, setDpr, invalidate]);
  useEffect(() => navigator.size(size.width, size.height), [navigator, size]);

  // What is shown, and where it is.
  useEffect(() => {
    world.put('moving', moving);
    world.put('full', full);
    world.pose(poses, bent, frame);
    invalidate();
  }, [world, moving, full, poses, bent, frame, invalidate]);

  const all = useMemo(
    () => new Box3(new Vector3(...space.low), new Vector3(...space.high)),
    [space],
  );
  const stage = useMemo(() => stageOf(space, poses, all), [space, poses, all]);
  const framed = useRef(false);
  useEffect(() => {
    if (!framed.current && size.width > 1 && poses) {
      framed.current = true;
      navigator.frame(stage);
    }
  }, [stage, navigator, size, poses]);

  // Looking through a camera follows it.
  const at = space.cameras.findIndex((c) => c.name === through);
  useEffect(() => {
    if (look !== 'through') {
      navigator.from(look);
      return;
    }
    const c = space.cameras[at];
    const place = c && placeOf(space, poses, c.node, frame);
    if (!c || !place || !poses) {
      return;
    }
    const { position, rotation } = poseOf(place);
    const view =
      angle === undefined
        ? viewOf(space, poses, at, frame)
        : c.perspective
          ? (angle * Math.PI) / 180
          : angle / 2;
    navigator.orbitAt(stage.getSize(new Vector3()).length() / 8);
    navigator.lookThrough({ position, rotation, perspective: c.perspective, view }, aspect);
  }, [look, at, space, poses, frame, aspect, navigator, stage, angle]);

  const chosenBox = useMemo(
    () => (chosen === undefined ? new Box3() : world.box(new Set([chosen]))),
    // Where it is changes with the frame.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [world, chosen, poses, bent, frame, moving],
  );
  useImperativeHandle(
    handle,
    () => ({
      frameAll: () => {
        // With all cameras, and the way of the one whose way is shown.
        const box = all.clone();
        for (const k of space.cameras) {
          const p = poses && spot(space, poses, k.name, frame);
          box.expandByPoint(p ?? box.min);
        }
        for (const f of path?.keys ?? []) {
          const p = poses && spot(space, poses, path!.camera, f);
          box.expandByPoint(p ?? box.min);
        }
        navigator.frame(box);
      },
      frameChosen: () => {
        const node = space.cameras.find((c) => c.node === chosen)?.node;
        const place = node === undefined ? undefined : placeOf(space, poses, node, frame);
        navigator.frame(
          place
            ? new Box3().setFromCenterAndSize(
                new Vector3().setFromMatrixPosition(place),
                new Vector3(4, 4, 4),
              )
            : chosenBox.isEmpty()
              ? all
              : chosenBox,
        );
      },
      pose: () => navigator.pose(),
      view: () => navigator.view(),
    }),
    [navigator, all, chosenBox, chosen, space, poses, frame, path],
  );

  usePointer({ gl: gl.domElement, navigator, world, space, poses, path, said, invalidate });
  useLabels({
    labels,
    navigator,
    space,
    poses,
    frame,
    through: look === 'through' ? through : '',
    none: bare,
  });

  const light = useRef<{ position: Vector3 } | null>(null);
  const pictures = useRef(0);
  useFrame(({ camera }) => {
    pictures.current++;
    // What is projected below is of this picture, not of the one before.
    camera.updateMatrixWorld();
    if (labels.current) {
      const at = (path?.keys ?? [])
        .map((f) => {
          const p = path && poses && spot(space, poses, path.camera, f)?.project(camera);
          const x = p && ((p.x + 1) / 2) * size.width;
          const y = p && ((1 - p.y) / 2) * size.height;
          return `${f}:${x?.toFixed(0)},${y?.toFixed(0)}`;
        })
        .join(' ');
      labels.current.parentElement!.setAttribute('data-keys', at);
      labels.current.parentElement!.setAttribute('data-pictures', String(pictures.current));
    }
    // From where one looks, and a little from above.
    const ahead = camera.getWorldDirection(new Vector3());
    light.current?.position
      .copy(ahead)
      .negate()
      .add(new Vector3(0, 0.4, 0));
  });
  const theme = useThemeName();
  // They stand in the page's style, which the theme sets.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const c = useMemo(() => colours(), [theme]);
  const scale = Math.max(1e-3, stage.getSize(new Vector3()).length());
  const wide = Math.max(1e-3, all.getSize(new Vector3()).length());
  return (
    <>
      <color attach="background" args={[c.well]} />
      <primitive object={world.root} dispose={null} />
      <hemisphereLight args={['#ffffff', '#5a5a5a', 2.1]} />
      <directionalLight ref={light as never} intensity={1.6} />
      {!bare && (
        <>
          <gridHelper
            args={[gridSize(wide), 20, c.line, c.line]}
            position={[0, Math.min(0, space.low[1]), 0]}
          />
          {space.cameras.map(
            (k, i) =>
              !(look === 'through' && i === at) && (
                <CameraShape
                  key={k.node}
                  place={placeOf(space, poses, k.node, frame)}
                  angle={poses ? viewOf(space, poses, i, frame) : 0.7}
                  perspective={k.perspective}
                  aspect={aspect}
                  scale={scale / 60}
                  colour={k.node === chosen ? c.mark : k.rig ? c.t1 : c.t3}
                />
              ),
          )}
          {space.lights.map((k) => (
            <LightShape
              key={k.node}
              place={placeOf(space, poses, k.node, frame)}
              kind={k.kind}
              scale={scale / 90}
              colour={k.node === chosen ? c.mark : k.rig ? c.t1 : c.t3}
            />
          ))}
        </>
      )}
      {path && poses && (
        <PathShape path={path} space={space} poses={poses} frame={frame} colours={c} />
      )}
      {!chosenBox.isEmpty() && <box3Helper args={[chosenBox, c.mark]} />}
    </>
  );
}

/**
 * Returns the part of a scene where things happen: around its cameras and what moves, where that is
 * much smaller than all of it.
 */
function stageOf(space: Space, poses: Poses | undefined, all: Box3): Box3 {
  const box = new Box3();
  for (let k = 0; poses && k < space.posed.length; k++) {
    box.expandByPoint(new Vector3().setFromMatrixPosition(matrixAt(poses.place, k)));
  }
  const size = (b: Box3) => b.getSize(new Vector3()).length();
  if (box.isEmpty() || size(box) < 1e-3 * size(all) || size(box) > 0.3 * size(all)) {
    return all;
  }
  return box.expandByScalar(0.1 * size(box));
}

const gridSize = (scale: number) => 2 * 10 ** Math.ceil(Math.log10(scale / 2));

export function poseOf(m: Matrix4): ViewPose {
  const position = new Vector3();
  const rotation = new Quaternion();
  m.decompose(position, rotation, new Vector3());
  return { position, rotation };
}

/** Lines between points, given as numbers. */
function Lines({ points, colour }: { points: Float32Array; colour: Color }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(points, 3));
    return g;
  }, [points]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <lineSegments geometry={geometry} frustumCulled={false}>
      <lineBasicMaterial color={colour} />
    </lineSegments>
  );
}

function CameraShape({
  place,
  angle,
  perspective,
  aspect,
  scale,
  colour,
}: {
  place: Matrix4 | undefined;
  angle: number;
  perspective: boolean;
  aspect: number;
  scale: number;
  colour: Color;
}) {
  const points = useMemo(() => {
    const h = perspective ? Math.tan(angle / 2) * scale * 2 : Math.min(angle, scale);
    const w = h * aspect;
    const z = -2 * scale;
    const near = perspective ? 0 : 1;
    const corner = (x: number, y: number): [number, number, number] => [x * w, y * h, z];
    const start = (x: number, y: number): [number, number, number] => [
      x * w * near,
      y * h * near,
      0,
    ];
    const p: [number, number, number][] = [];
    const round: [number, number][] = [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ];
    round.forEach(([x, y], i) => {
      const [u, v] = round[(i + 1) % 4]!;
      p.push(start(x, y), corner(x, y), corner(x, y), corner(u, v));
    });
    // Which side is up.
    p.push(corner(-0.4, 1.1), corner(0, 1.6), corner(0, 1.6), corner(0.4, 1.1));
    return Float32Array.from(p.flat());
  }, [angle, perspective, aspect, scale]);
  return (
    place && (
      <group matrixAutoUpdate={false} matrix={unscaled(place)}>
        <Lines points={points} colour={colour} />
      </group>
    )
  );
}

/** What it hangs on may be of any size; it is shown in its own. */
function unscaled(m: Matrix4): Matrix4 {
  const { position, rotation } = poseOf(m);
  return new Matrix4().compose(position, rotation, new Vector3(1, 1, 1));
}

function LightShape({
  place,
  kind,
  scale,
  colour,
}: {
  place: Matrix4 | undefined;
  kind: 'POINT' | 'SPOT' | 'DIRECTIONAL';
  scale: number;
  colour: Color;
}) {
  const points = useMemo(() => {
    const p: number[] = [];
    const ray = (x: number, y: number, z: number, from: number) =>
      p.push(x * from, y * from, z * from, x, y, z);
    if (kind === 'POINT') {
      for (const [x, y, z] of [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ] as const) {
        ray(x * scale, y * scale, z * scale, 0.35);
        ray(-x * scale, -y * scale, -z * scale, 0.35);
      }
    } else {
      const spread = kind === 'SPOT' ? 0.5 : 0;
      for (let i = 0; i < 6; i++) {
        const x = Math.cos((i * Math.PI) / 3) * scale;
        const y = Math.sin((i * Math.PI) / 3) * scale;
        p.push(x * 0.4, y * 0.4, 0, x * (0.4 + spread), y * (0.4 + spread), -2 * scale);
      }
    }
    return Float32Array.from(p);
  }, [kind, scale]);
  return (
    place && (
      <group matrixAutoUpdate={false} matrix={unscaled(place)}>
        <Lines points={points} colour={colour} />
      </group>
    )
  );
}

/** Returns where a camera is at a frame. */
function spot(space: Space, poses: Poses, camera: string, frame: number): Vector3 | undefined {
  const node = space.cameras.find((c) => c.name === camera)?.node;
  const place = node === undefined ? undefined : placeOf(space, poses, node, frame);
  return place && new Vector3().setFromMatrixPosition(place);
}

function PathShape({
  path,
  space,
  poses,
  frame,
  colours: c,
}: {
  path: CameraPath;
  space: Space;
  poses: Poses;
  frame: number;
  colours: ReturnType<typeof colours>;
}) {
  const line = useMemo(() => {
    const p: number[] = [];
    const from = Math.max(path.first, poses.first);
    const to = Math.min(path.last, poses.first + poses.count - 1);
    for (let f = from; f < to; f++) {
      p.push(...(spot(space, poses, path.camera, f)?.toArray() ?? []));
      p.push(...(spot(space, poses, path.camera, f + 1)?.toArray() ?? []));
    }
    return Float32Array.from(p);
  }, [path, space, poses]);
  const dots = (frames: number[]) =>
    Float32Array.from(frames.flatMap((f) => spot(space, poses, path.camera, f)?.toArray() ?? []));
  return (
    <>
      <Lines points={line} colour={c.t1} />
      <Dots points={dots(path.keys.filter((f) => f !== frame))} colour={c.t1} size={8} />
      <Dots points={dots(path.keys.filter((f) => f === frame))} colour={c.mark} size={10} />
      <Dots points={dots(path.jerks)} colour={c.bad} size={6} />
    </>
  );
}

function Dots({ points, colour, size }: { points: Float32Array; colour: Color; size: number }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(points, 3));
    return g;
  }, [points]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <points geometry={geometry} frustumCulled={false} renderOrder={2}>
      <pointsMaterial color={colour} size={size} sizeAttenuation={false} depthTest={false} />
    </points>
  );
}

/** Choosing by the pointer, and dragging keys. */
function usePointer({
  gl,
  navigator,
  world,
  space,
  poses,
  path,
  said,
  invalidate,
}: {
  gl: HTMLCanvasElement;
  navigator: Navigator;
  world: World;
  space: Space;
  poses: Poses | undefined;
  path: CameraPath | undefined;
  said: React.RefObject<Pick<Props, 'onChoose' | 'onDragKey' | 'onLeave'>>;
  invalidate: () => void;
}) {
  const now = useRef({ world, space, poses, path });
  useEffect(() => {
    now.current = { world, space, poses, path };
  });
  useEffect(() => {
    const ray = new Raycaster();
    let down: { x: number; y: number } | undefined;
    let drag: { frame: number; from: Vector3; plane: Plane } | undefined;
    const aim = (e: PointerEvent) => {
      const r = gl.getBoundingClientRect();
      const p = new Vector2(
        (2 * (e.clientX - r.left)) / r.width - 1,
        1 - (2 * (e.clientY - r.top)) / r.height,
      );
      ray.setFromCamera(p, navigator.camera as Camera);
      return r;
    };
    const press = (e: PointerEvent) => {
      down = { x: e.clientX, y: e.clientY };
      const { path: way, poses: there, space: room } = now.current;
      const r = aim(e);
      if (!way || !there || e.button !== 0) {
        return;
      }
      for (const frame of way.keys) {
        const p = spot(room, there, way.camera, frame);
        const s = p?.clone().project(navigator.camera);
        if (!p || !s || Math.abs(s.z) > 1) {
          continue;
        }
        const dx = ((s.x + 1) / 2) * r.width + r.left - e.clientX;
        const dy = ((1 - s.y) / 2) * r.height + r.top - e.clientY;
        if (Math.hypot(dx, dy) < REACH) {
          const normal = navigator.camera.getWorldDirection(new Vector3());
          drag = { frame, from: p, plane: new Plane().setFromNormalAndCoplanarPoint(normal, p) };
          navigator.hold(true);
          gl.setPointerCapture(e.pointerId);
          e.stopPropagation();
          return;
        }
      }
    };
    const lift = (e: PointerEvent) => {
      if (drag) {
        aim(e);
        const to = ray.ray.intersectPlane(drag.plane, new Vector3());
        if (to && down && Math.hypot(e.clientX - down.x, e.clientY - down.y) > 3) {
          said.current.onDragKey(drag.frame, to.sub(drag.from));
        }
        drag = undefined;
        navigator.hold(false);
        invalidate();
        return;
      }
      if (down && e.button === 0 && Math.hypot(e.clientX - down.x, e.clientY - down.y) < 4) {
        aim(e);
        said.current.onChoose(now.current.world.pick(ray)?.node);
      }
      down = undefined;
    };
    // Before the controls hear of it.
    gl.addEventListener('pointerdown', press, { capture: true });
    gl.addEventListener('pointerup', lift, { capture: true });
    return () => {
      gl.removeEventListener('pointerdown', press, { capture: true });
      gl.removeEventListener('pointerup', lift, { capture: true });
    };
  }, [gl, navigator, said, invalidate]);
}

/** The names of cameras beside them. */
function useLabels({
  labels,
  navigator,
  space,
  poses,
  frame,
  through,
  none,
}: {
  labels: React.RefObject<HTMLDivElement | null>;
  navigator: Navigator;
  space: Space;
  poses: Poses | undefined;
  frame: number;
  through: string | undefined;
  none: boolean;
}) {
  const { size } = useThree();
  useFrame(() => {
    const box = labels.current;
    if (!box) {
      return;
    }
    navigator.camera.updateMatrixWorld();
    const some = none ? [] : space.cameras.filter((c) => c.name !== through).slice(0, 24);
    while (box.children.length > some.length) {
      box.lastChild!.remove();
    }
    const taken: { x: number; y: number }[] = [];
    some.forEach((c, i) => {
      let e = box.children[i] as HTMLElement | undefined;
      if (!e) {
        e = document.createElement('span');
        e.className = 'absolute top-0 left-0 text-xs text-t2 whitespace-nowrap';
        box.appendChild(e);
      }
      const place = placeOf(space, poses, c.node, frame);
      const p = place && new Vector3().setFromMatrixPosition(place).project(navigator.camera);
      const inside = p && Math.abs(p.x) < 1 && Math.abs(p.y) < 1 && Math.abs(p.z) < 1;
      const x = inside ? ((p.x + 1) / 2) * size.width + 8 : 0;
      const y = inside ? ((1 - p.y) / 2) * size.height - 18 : 0;
      // Names do not lie over each other.
      const free = !taken.some((t) => Math.abs(t.x - x) < 90 && Math.abs(t.y - y) < 15);
      e.style.display = inside && free ? '' : 'none';
      if (inside && free) {
        taken.push({ x, y });
        if (e.textContent !== c.name) {
          e.textContent = c.name;
        }
        e.style.transform = `translate(${x}px, ${y}px)`;
      }
    });
  });
}
