import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { spaceBytes, type Revision } from '../api/client';
import { useRigOf } from '../api/rigs';
import { readBlocks } from './blocks';

export type SpaceCamera = {
  name: string;
  node: number;
  parent: number;
  perspective: boolean;
  /** True if it is the rig's. */
  rig: boolean;
};

export type SpaceLight = {
  name: string;
  node: number;
  parent: number;
  kind: 'POINT' | 'SPOT' | 'DIRECTIONAL';
  rig: boolean;
};

/** What is placed where. */
export type Space = {
  /** Tells the shapes from others. */
  shapes: string;
  triangles: number;
  shown: 'whole' | 'simplified' | 'boxes';
  low: [number, number, number];
  high: [number, number, number];
  cameras: SpaceCamera[];
  lights: SpaceLight[];
  /** What of the rig does not fit, in sentences. */
  unfit: string[];
  /** Vertices of all that is bent. */
  bent: number;
  /** For each placed mesh its node, its mesh, and twelve numbers of its place. */
  node: Int32Array;
  mesh: Int32Array;
  place: Float32Array;
  /** Nodes whose places are told for each frame. */
  posed: Int32Array;
};

/** The shapes of all meshes, one behind the other. */
export type ShapeData = {
  /** Vertices and corners of each mesh. */
  sizes: Int32Array;
  positions: Float32Array;
  normals: Int8Array;
  colors: Uint8Array;
  indices: Int32Array;
};

/** Where posed nodes are, frame by frame. */
export type Poses = {
  first: number;
  count: number;
  place: Float32Array;
  there: Uint8Array;
  view: Float32Array;
};

/** What joints and morph targets bend: parts one behind the other, frame by frame. */
export type Bent = {
  first: number;
  count: number;
  node: Int32Array;
  /** Vertices and corners of each part. */
  sizes: Int32Array;
  colors: Uint8Array;
  indices: Int32Array;
  positions: Float32Array;
  normals: Int8Array;
  there: Uint8Array;
};

/** Frames that are asked for at once; fewer where so many bytes hold fewer, as on the server. */
const CHUNK = 240;
const CHUNK_BYTES = 48 << 20;
const BENT_BYTES = 24 << 20;

type Detail = 'FULL' | 'MOVING';

/** All that the view of a revision shows at a frame; parts come one after the other. */
export function useSpace(revision: Revision, frame: number) {
  const rig = useRigOf(revision)?.version ?? 0;
  const space = useQuery({
    queryKey: ['space', revision.id, revision.sha256, rig],
    queryFn: async ({ signal }): Promise<Space> => {
      const b = readBlocks<Omit<Space, 'node' | 'mesh' | 'place' | 'posed'>>(
        await spaceBytes(revision.id, '', {}, signal),
      );
      return {
        ...b.head,
        node: b.whole('node'),
        mesh: b.whole('mesh'),
        place: b.floats('place'),
        posed: b.whole('posed'),
      };
    },
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });
  const tag = space.data?.shapes;
  const shapes = (detail: Detail, wait: boolean) => ({
    queryKey: ['shapes', revision.id, revision.sha256, tag, detail],
    queryFn: async ({ signal }: { signal: AbortSignal }): Promise<ShapeData> => {
      const b = readBlocks<object>(await spaceBytes(revision.id, '/shapes', { detail }, signal));
      return {
        sizes: b.whole('sizes'),
        positions: b.floats('positions'),
        normals: b.signed('normals'),
        colors: b.bytes('colors'),
        indices: b.whole('indices'),
      };
    },
    enabled: tag !== undefined && !wait,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });
  // What is simple is there first.
  const moving = useQuery(shapes('MOVING', false));
  const full = useQuery(shapes('FULL', moving.data === undefined));
  const posed = Math.max(1, space.data?.posed.length ?? 1);
  const chunkOf = (bytes: number, each: number) => {
    const size = Math.max(1, Math.min(CHUNK, Math.floor(bytes / each)));
    return [Math.floor((frame - revision.first) / size) * size + revision.first, size] as const;
  };
  const [chunk, size] = chunkOf(CHUNK_BYTES, 48 * posed);
  const [bentChunk, bentSize] = chunkOf(BENT_BYTES, 15 * Math.max(1, space.data?.bent ?? 1));
  const poses = useQuery({
    queryKey: ['poses', revision.id, revision.sha256, rig, chunk, size],
    queryFn: async ({ signal }): Promise<Poses> => {
      const b = readBlocks<{ first: number; count: number }>(
        await spaceBytes(revision.id, '/poses', { first: chunk, count: size }, signal),
      );
      return {
        ...b.head,
        place: b.floats('place'),
        there: b.bytes('there'),
        view: b.floats('view'),
      };
    },
    enabled: space.data !== undefined,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });
  const bent = useQuery({
    queryKey: ['bent', revision.id, revision.sha256, rig, bentChunk, bentSize],
    queryFn: async ({ signal }): Promise<Bent> => {
      const b = readBlocks<{ first: number; count: number }>(
        await spaceBytes(revision.id, '/bent', { first: bentChunk, count: bentSize }, signal),
      );
      return {
        ...b.head,
        node: b.whole('node'),
        sizes: b.whole('sizes'),
        colors: b.bytes('colors'),
        indices: b.whole('indices'),
        positions: b.floats('positions'),
        normals: b.signed('normals'),
        there: b.bytes('there'),
      };
    },
    enabled: (space.data?.bent ?? 0) > 0,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    retry: false,
  });
  return {
    space: space.data,
    moving: moving.data,
    full: full.data,
    poses: poses.data,
    bent: bent.data,
    error: space.error ?? moving.error ?? poses.error ?? bent.error,
  };
}

/** Returns the number of a node among those that are posed; below 0 if it is not. */
export function posedAt(space: Space, node: number): number {
  let lo = 0;
  let hi = space.posed.length - 1;
  while (lo <= hi) {
    const mid = (lo + hi) >> 1;
    const n = space.posed[mid]!;
    if (n === node) {
      return mid;
    }
    if (n < node) {
      lo = mid + 1;
    } else {
      hi = mid - 1;
    }
  }
  return -1;
}
