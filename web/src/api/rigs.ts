import { keepPreviousData, skipToken, useMutation, useQuery } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';
import {
  answer,
  api,
  type Definition,
  type Ease,
  type Revision,
  type Rig,
  type RigCamera,
  type RigKey,
  type SceneRig,
} from './client';
import {
  again,
  at,
  IN_ORDER,
  of,
  queryClient,
  useChangeDefinition,
  useProduction,
} from './queries';

export const NO_RIG: Rig = { cameras: [], lights: [], objects: [], materials: [], sky: null };

/** The rigs of the production. */
export const useRigs = () => {
  const p = useProduction().data?.id;
  return useQuery({ queryKey: ['rigs', p], queryFn: of(p, (o) => api.GET('/api/rigs', o)) }).data;
};

/** The rig of a scene; undefined while there is none. */
export const useRigOf = (revision: Pick<Revision, 'scene'> | undefined) =>
  useRigs()?.find((r) => r.document.scene === revision?.scene);

/** Changes the rig of a scene, on top of what it is by then; makes it if there is none. */
export function useChangeRig(revision: Revision | undefined) {
  const production = useProduction().data?.id;
  const change = useChangeDefinition<SceneRig>('rigs', (d) =>
    api.PUT('/api/rigs/{id}', { ...at(d.id), body: d }),
  );
  const add = useMutation({
    ...IN_ORDER,
    mutationFn: (body: SceneRig) =>
      answer(api.POST('/api/rigs', { params: { query: { production: production! } }, body })),
    onSuccess: () => again('rigs'),
  });
  const { mutateAsync: send } = change;
  const { mutateAsync: make } = add;
  const scene = revision?.scene;
  return useCallback(
    async (to: (rig: Rig) => Rig): Promise<unknown> => {
      const all = queryClient.getQueryData<Definition<SceneRig>[]>(['rigs', production]);
      const now = all?.find((r) => r.document.scene === scene);
      return now
        ? send({ id: now.id, part: { rig: to(now.document.rig) } })
        : make({ scene: scene!, rig: to(NO_RIG) });
    },
    [production, scene, send, make],
  );
}

/** A camera of the rig that stands where its keys have it. */
export const newCamera = (
  name: string,
  lens: Pick<RigCamera, 'orthographic' | 'view'>,
  key: RigKey,
): RigCamera => ({
  name,
  ...lens,
  fixedTo: '',
  lookAt: '',
  height: null,
  pivot: [0, 0, 0],
  orbit: null,
  sway: null,
  keys: [key],
});

/** Returns a name that no camera and no light of a scene and its rig has. */
export function freeName(revision: Revision, rig: Rig, wanted: string): string {
  const taken = new Set(
    [revision.report.cameras, rig.cameras, rig.lights].flatMap((all) => all.map((x) => x.name)),
  );
  let name = wanted;
  for (let k = 2; taken.has(name); k++) {
    name = `${wanted}-${k}`;
  }
  return name;
}

/** Returns a rig in which one camera is another; or gone. */
export const withCamera = (rig: Rig, name: string, to: RigCamera | undefined): Rig => ({
  ...rig,
  cameras: rig.cameras.flatMap((c) => (c.name !== name ? [c] : to ? [to] : [])),
});

export type CameraLine = Revision['report']['cameras'][number] & {
  /** True if it is the rig's. */
  rig: boolean;
};

const moves = (c: RigCamera) => c.keys.length > 1 || !!(c.orbit ?? c.sway) || c.lookAt !== '';

/** All cameras of a revision: the file's, and then the rig's. */
export function useCameras(revision: Revision | undefined): CameraLine[] {
  const rig = useRigOf(revision)?.document.rig;
  return useMemo(() => {
    const own = revision?.report.cameras.map((c) => ({ ...c, rig: false })) ?? [];
    const added = (rig?.cameras ?? []).filter((c) => !own.some((o) => o.name === c.name));
    return [
      ...own,
      ...added.map((c) => ({
        name: c.name,
        kind: c.orthographic ? 'orthographic' : 'perspective',
        angleDegrees: c.orthographic ? 0 : c.view,
        heightMetres: c.orthographic ? c.view : 0,
        moves: moves(c),
        added: false,
        nearMetres: 0,
        rig: true,
      })),
    ];
  }, [revision, rig]);
}

/** One object as it is at a frame, with what hangs on it. */
export const objectAt = (revision: number, name: string, frame: number, signal?: AbortSignal) =>
  answer(
    api.GET('/api/revisions/{id}/space/object', {
      params: { path: { id: revision }, query: { name, frame } },
      signal,
    }),
  );

export const useObject = (revision: number, rig: number, name: string | undefined, frame: number) =>
  useQuery({
    queryKey: ['object', revision, rig, name, frame],
    queryFn:
      name === undefined ? skipToken : ({ signal }) => objectAt(revision, name, frame, signal),
    placeholderData: keepPreviousData,
    retry: false,
  }).data;

/** How fast a camera is from frame to frame. */
export const useSpeed = (
  revision: number,
  rig: number,
  camera: string | undefined,
  first: number,
  last: number,
) =>
  useQuery({
    queryKey: ['speed', revision, rig, camera, first, last],
    queryFn:
      camera === undefined
        ? skipToken
        : ({ signal }) =>
            answer(
              api.GET('/api/revisions/{id}/space/speed', {
                params: { path: { id: revision }, query: { camera, first, last } },
                signal,
              }),
            ),
    placeholderData: keepPreviousData,
    retry: false,
  }).data;

export type WantedStop = { pose: RigKey; hold: number; transition: number };

/** What stops with seconds come to in frames; or why they cannot be. */
export const useStops = (stops: WantedStop[], first: number, rate: number, ease: Ease) =>
  useQuery({
    queryKey: ['stops', stops, first, rate, ease],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/moves/stops', { body: { stops, first, rate, ease }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 10_000,
  });
