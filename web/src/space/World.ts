import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  Group,
  InstancedMesh,
  type Material,
  MeshLambertMaterial,
  Matrix4,
  Mesh,
  Raycaster,
  Sphere,
  Vector3,
  type Object3D,
} from 'three';
import { posedAt, type Bent, type Poses, type ShapeData, type Space } from './useSpace';

/** A mesh that is placed at least so often is drawn many at a time. */
const MANY = 3;

/**
 * Corners that are joined in one mesh for while the view moves: without a graphics card each of
 * many that are drawn at a time takes as long as a hundred corners.
 */
const JOINED = 900_000;

/** An instance that moves. */
type Moving = { mesh: InstancedMesh; at: number; posed: number; own: Matrix4 };

/** What one level of detail is drawn by. */
type Level = {
  group: Group;
  moving: Moving[];
  /** For each instanced mesh the nodes of its instances. */
  nodes: Map<Object3D, Int32Array>;
  /** For what is joined in one mesh: the first corner of each part, and its node. */
  joined: { mesh: Mesh; first: number[]; node: number[] } | undefined;
};

const NOWHERE = new Matrix4().makeScale(0, 0, 0);

/** Returns twelve numbers of a place as a matrix. */
export function matrixAt(place: Float32Array, i: number, to = new Matrix4()): Matrix4 {
  const p = 12 * i;
  const v = (k: number) => place[p + k]!;
  return to.set(
    v(0), v(1), v(2), v(3),
    v(4), v(5), v(6), v(7),
    v(8), v(9), v(10), v(11),
    0, 0, 0, 1,
  ); // prettier-ignore
}

/** Returns where a posed node is at a frame; undefined if that is not known. */
export function placeOf(space: Space, poses: Poses | undefined, node: number, frame: number) {
  const k = posedAt(space, node);
  if (!poses || k < 0) {
    return undefined;
  }
  const f = Math.max(0, Math.min(poses.count - 1, frame - poses.first));
  return matrixAt(poses.place, f * space.posed.length + k);
}

/** Returns the angle in radians or half the height in metres of a camera at a frame. */
export function viewOf(space: Space, poses: Poses, camera: number, frame: number): number {
  const f = Math.max(0, Math.min(poses.count - 1, frame - poses.first));
  return poses.view[f * space.cameras.length + camera] ?? 0.7;
}

/** The objects of a scene, to be drawn: as they are, and simple for while the view moves. */
export class World {
  readonly root = new Group();
  private levels: Partial<Record<'full' | 'moving', Level>> = {};
  private shapes: Partial<Record<'full' | 'moving', ShapeData>> = {};
  private still = true;
  private readonly material = new MeshLambertMaterial({ vertexColors: true });
  private poses: Poses | undefined;
  private bent: Bent | undefined;
  private readonly parts = new Group();
  private frame = 0;

  constructor(readonly space: Space) {
    this.root.add(this.parts);
  }

  /** Takes shapes over, if they are others than before. */
  put(level: 'full' | 'moving', shapes: ShapeData | undefined) {
    if (!shapes || this.shapes[level] === shapes) {
      return;
    }
    this.shapes[level] = shapes;
    const old = this.levels[level];
    if (old) {
      this.root.remove(old.group);
      free(old);
    }
    const made = build(this.space, shapes, this.material, level === 'moving' ? JOINED : 0);
    this.levels[level] = made;
    this.root.add(made.group);
    this.show();
    this.place();
  }

  /** Says whether the view moves: then what is simple is drawn. */
  moves(now: boolean) {
    this.still = !now;
    this.show();
  }

  private show() {
    const { full, moving } = this.levels;
    const fine = full && (this.still || !moving);
    if (full) {
      full.group.visible = !!fine;
    }
    if (moving) {
      moving.group.visible = !fine;
    }
  }

  /** Brings everything to where it is at a frame. */
  pose(poses: Poses | undefined, bent: Bent | undefined, frame: number) {
    this.poses = poses;
    this.frame = frame;
    if (this.bent !== bent) {
      this.bent = bent;
      this.parts.children.forEach((m) => (m as Mesh).geometry.dispose());
      this.parts.clear();
      if (bent) {
        this.parts.add(...bentMeshes(bent, this.material));
      }
    }
    this.bend();
    this.place();
  }

  /** Gives what is bent the shape that it has at the frame. */
  private bend() {
    const { bent } = this;
    if (!bent) {
      return;
    }
    const f = Math.max(0, Math.min(bent.count - 1, this.frame - bent.first));
    let v = f * (bent.positions.length / bent.count);
    this.parts.children.forEach((m, i) => {
      const g = (m as Mesh).geometry;
      const n = 3 * bent.sizes[2 * i]!;
      const put = (name: string, from: Float32Array | Int8Array) => {
        const a = g.getAttribute(name) as BufferAttribute;
        a.array.set(from.subarray(v, v + n));
        a.needsUpdate = true;
      };
      put('position', bent.positions);
      put('normal', bent.normals);
      g.boundingSphere = null;
      m.visible = bent.there[f * bent.node.length + i] === 1;
      v += n;
    });
  }

  private place() {
    const { poses, space } = this;
    if (!poses) {
      return;
    }
    const f = Math.max(0, Math.min(poses.count - 1, this.frame - poses.first));
    const n = space.posed.length;
    const world = new Matrix4();
    for (const level of Object.values(this.levels)) {
      const touched = new Set<InstancedMesh>();
      for (const m of level.moving) {
        const there = poses.there[f * n + m.posed] === 1;
        m.mesh.setMatrixAt(
          m.at,
          there ? matrixAt(poses.place, f * n + m.posed, world).multiply(m.own) : NOWHERE,
        );
        touched.add(m.mesh);
      }
      touched.forEach((m) => {
        m.instanceMatrix.needsUpdate = true;
        m.boundingSphere = null;
      });
    }
  }

  /** Returns the node of the object that a ray meets first. */
  pick(ray: Raycaster): { node: number; point: Vector3 } | undefined {
    const level = this.levels.moving ?? this.levels.full;
    if (!level) {
      return undefined;
    }
    const visible = level.group.visible;
    level.group.visible = true;
    const met = ray.intersectObjects([
      level.group,
      ...this.parts.children.filter((m) => m.visible),
    ])[0];
    level.group.visible = visible;
    if (!met) {
      return undefined;
    }
    const part = this.parts.children.indexOf(met.object);
    if (part >= 0) {
      return { node: this.bent!.node[part]!, point: met.point };
    }
    const own = level.nodes.get(met.object);
    if (own && met.instanceId !== undefined) {
      return { node: own[met.instanceId]!, point: met.point };
    }
    const j = level.joined;
    if (j && met.object === j.mesh && met.faceIndex != null) {
      const corner = 3 * met.faceIndex;
      let at = 0;
      while (at + 1 < j.first.length && j.first[at + 1]! <= corner) {
        at++;
      }
      return { node: j.node[at]!, point: met.point };
    }
    return undefined;
  }

  /** Returns the box around some objects where they are now; empty if none has a shape. */
  box(nodes: ReadonlySet<number>): Box3 {
    const all = new Box3();
    const shapes = this.shapes.moving ?? this.shapes.full;
    if (!shapes) {
      return all;
    }
    const { space, poses } = this;
    const own = new Map<number, Box3>();
    const n = space.posed.length;
    const f = poses ? Math.max(0, Math.min(poses.count - 1, this.frame - poses.first)) : 0;
    const starts = startsOf(shapes);
    for (let i = 0; i < space.node.length; i++) {
      if (!nodes.has(space.node[i]!)) {
        continue;
      }
      const m = space.mesh[i]!;
      let b = own.get(m);
      if (!b) {
        b = new Box3();
        const from = starts.vertex[m]!;
        for (let v = from; v < from + shapes.sizes[2 * m]!; v++) {
          b.expandByPoint(
            new Vector3(
              shapes.positions[3 * v],
              shapes.positions[3 * v + 1],
              shapes.positions[3 * v + 2],
            ),
          );
        }
        own.set(m, b);
      }
      const k = posedAt(space, space.node[i]!);
      const place = matrixAt(space.place, i);
      const world = k >= 0 && poses ? matrixAt(poses.place, f * n + k).multiply(place) : place;
      all.union(b.clone().applyMatrix4(world));
    }
    this.parts.children.forEach((m, i) => {
      if (m.visible && nodes.has(this.bent!.node[i]!)) {
        all.expandByObject(m);
      }
    });
    return all;
  }

  /** Frees what the graphics card holds. */
  close() {
    Object.values(this.levels).forEach(free);
    this.parts.children.forEach((m) => (m as Mesh).geometry.dispose());
    this.material.dispose();
  }
}

function free(level: Level) {
  level.group.traverse((o) => {
    if (o instanceof InstancedMesh) {
      o.dispose();
    }
    if (o instanceof Mesh) {
      (o.geometry as BufferGeometry).dispose();
    }
  });
}

function startsOf(shapes: ShapeData) {
  const vertex: number[] = [];
  const corner: number[] = [];
  let v = 0;
  let c = 0;
  for (let m = 0; m < shapes.sizes.length / 2; m++) {
    vertex.push(v);
    corner.push(c);
    v += shapes.sizes[2 * m]!;
    c += shapes.sizes[2 * m + 1]!;
  }
  return { vertex, corner };
}

/** A mesh for each part that is bent, without a shape yet. */
function bentMeshes(bent: Bent, material: Material): Mesh[] {
  const all: Mesh[] = [];
  let v = 0;
  let c = 0;
  for (let i = 0; i < bent.node.length; i++) {
    const n = 3 * bent.sizes[2 * i]!;
    const corners = bent.sizes[2 * i + 1]!;
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(new Float32Array(n), 3));
    g.setAttribute('normal', new BufferAttribute(new Int8Array(n), 3, true));
    g.setAttribute('color', new BufferAttribute(bent.colors.subarray(v, v + n), 3, true));
    g.setIndex(new BufferAttribute(Uint32Array.from(bent.indices.subarray(c, c + corners)), 1));
    const m = new Mesh(g, material);
    m.frustumCulled = false;
    all.push(m);
    v += n;
    c += corners;
  }
  return all;
}

/**
 * Meshes that stand alone are joined in one; the others are drawn many at a time.
 *
 * @param most corners up to which all that stand still are joined
 */
function build(space: Space, shapes: ShapeData, material: Material, most: number): Level {
  const group = new Group();
  const level: Level = { group, moving: [], nodes: new Map(), joined: undefined };
  const starts = startsOf(shapes);
  const byMesh = new Map<number, number[]>();
  for (let i = 0; i < space.mesh.length; i++) {
    const m = space.mesh[i]!;
    if (shapes.sizes[2 * m + 1]! > 0) {
      const all = byMesh.get(m);
      if (all) {
        all.push(i);
      } else {
        byMesh.set(m, [i]);
      }
    }
  }
  const alone: number[] = [];
  let corners = 0;
  for (const [m, all] of byMesh) {
    const moves = all.some((i) => posedAt(space, space.node[i]!) >= 0);
    const more = all.length * shapes.sizes[2 * m + 1]!;
    if (!moves && (all.length < MANY || corners + more < most)) {
      corners += more;
      alone.push(...all);
      continue;
    }
    const geometry = geometryOf(shapes, starts, m);
    const mesh = new InstancedMesh(geometry, material, all.length);
    // What is far spread is never out of sight as a whole; what moves changes its bounds.
    mesh.frustumCulled = false;
    level.nodes.set(
      mesh,
      Int32Array.from(all, (i) => space.node[i]!),
    );
    all.forEach((i, at) => {
      const own = matrixAt(space.place, i);
      const posed = posedAt(space, space.node[i]!);
      mesh.setMatrixAt(at, own);
      if (posed >= 0) {
        level.moving.push({ mesh, at, posed, own });
      }
    });
    group.add(mesh);
  }
  if (alone.length) {
    level.joined = join(space, shapes, starts, alone, material);
    group.add(level.joined.mesh);
  }
  return level;
}

type Starts = ReturnType<typeof startsOf>;

function geometryOf(shapes: ShapeData, starts: Starts, m: number): BufferGeometry {
  const v = starts.vertex[m]!;
  const c = starts.corner[m]!;
  const vertices = shapes.sizes[2 * m]!;
  const g = new BufferGeometry();
  const cut = <A extends Float32Array | Int8Array | Uint8Array>(a: A) =>
    a.subarray(3 * v, 3 * (v + vertices)) as A;
  g.setAttribute('position', new BufferAttribute(cut(shapes.positions), 3));
  g.setAttribute('normal', new BufferAttribute(cut(shapes.normals), 3, true));
  g.setAttribute('color', new BufferAttribute(cut(shapes.colors), 3, true));
  g.setIndex(
    new BufferAttribute(
      Uint32Array.from(shapes.indices.subarray(c, c + shapes.sizes[2 * m + 1]!)),
      1,
    ),
  );
  return g;
}

function join(space: Space, shapes: ShapeData, starts: Starts, all: number[], material: Material) {
  const sum = (k: 0 | 1) => all.reduce((s, i) => s + shapes.sizes[2 * space.mesh[i]! + k]!, 0);
  const vertices = sum(0);
  const positions = new Float32Array(3 * vertices);
  const normals = new Int8Array(3 * vertices);
  const colors = new Uint8Array(3 * vertices);
  const indices = new Uint32Array(sum(1));
  const first: number[] = [];
  const node: number[] = [];
  let v = 0;
  let c = 0;
  const p = new Vector3();
  for (const i of all) {
    const m = space.mesh[i]!;
    const place = matrixAt(space.place, i);
    const turn = new Matrix4().copy(place).setPosition(0, 0, 0).invert().transpose();
    const mirrored = place.determinant() < 0;
    const from = starts.vertex[m]!;
    const count = shapes.sizes[2 * m]!;
    for (let k = 0; k < count; k++) {
      const s = 3 * (from + k);
      const d = 3 * (v + k);
      p.fromArray(shapes.positions, s).applyMatrix4(place).toArray(positions, d);
      p.fromArray(shapes.normals, s).applyMatrix4(turn).normalize().multiplyScalar(127);
      p.toArray(normals, d);
    }
    colors.set(shapes.colors.subarray(3 * from, 3 * (from + count)), 3 * v);
    first.push(c);
    node.push(space.node[i]!);
    const corners = shapes.sizes[2 * m + 1]!;
    for (let k = 0; k < corners; k++) {
      const flip = mirrored && k % 3 > 0 ? (k % 3 === 1 ? 1 : -1) : 0;
      indices[c + k] = v + shapes.indices[starts.corner[m]! + k + flip]!;
    }
    v += count;
    c += corners;
  }
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(positions, 3));
  g.setAttribute('normal', new BufferAttribute(normals, 3, true));
  g.setAttribute('color', new BufferAttribute(colors, 3, true));
  g.setIndex(new BufferAttribute(indices, 1));
  g.boundingSphere = new Sphere(new Vector3(), Infinity);
  return { mesh: new Mesh(g, material), first, node };
}
