import { useMutation, useQuery } from '@tanstack/react-query';
import { answer, api } from './client';
import { again, of, useProduction } from './queries';

/** What the frames of a strand come to; `limit` in seconds, undefined for the recipe's own. */
export const useReach = (shot: number, layer: number, limit: number | undefined, depends: string) =>
  useQuery({
    queryKey: ['estimates', 'reach', shot, layer, limit, depends],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/shots/{id}/reach', {
          params: { path: { id: shot }, query: { layer, limit } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    gcTime: 60_000,
  }).data;

/** Where the rays and the time of a frame go; `depends` changes with all that matters to it. */
export const useEffort = (shot: number, layer: number, frame: number, depends: string) =>
  useQuery({
    queryKey: ['effort', shot, layer, frame, depends],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/shots/{id}/effort', {
          params: { path: { id: shot }, query: { frame, layer } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    gcTime: 60_000,
  });

/** Whether light can be baked for a shot's layer. */
export const useBakedLight = (shot: number, layer: number, depends: string) =>
  useQuery({
    queryKey: ['baked light', shot, layer, depends],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/shots/{id}/baked-light', {
          params: { path: { id: shot }, query: { layer } },
          signal,
        }),
      ),
    gcTime: 60_000,
  });

/** Puts what moves in a layer of its own. */
export const useMoversApart = () =>
  useMutation({
    mutationFn: ({ shot, layer }: { shot: number; layer: number }) =>
      answer(
        api.POST('/api/shots/{id}/movers-apart', {
          params: { path: { id: shot }, query: { layer } },
        }),
      ),
    onSuccess: async () => {
      await Promise.all([again('layers'), again('strands')]);
    },
  });

/** Has the light of a strand baked, by a recipe of its own if others use the one it has. */
export const useBake = () =>
  useMutation({
    mutationFn: ({ shot, layer, every }: { shot: number; layer: number; every: number }) =>
      answer(
        api.POST('/api/shots/{id}/baked-light', {
          params: { path: { id: shot }, query: { layer, every } },
        }),
      ),
    onSuccess: async () => {
      await Promise.all([again('recipes'), again('strands')]);
    },
  });

export const useSnapshots = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['snapshots', p],
    queryFn: of(p, (o) => api.GET('/api/snapshots', o)),
  }).data;
};

export const useKeepSnapshot = () =>
  useMutation({
    mutationFn: (body: { shotId: number; layerId: number; viewer: string; name: string | null }) =>
      answer(api.POST('/api/snapshots', { body })),
    onSuccess: () => again('snapshots'),
  });

export const useRenameSnapshot = () =>
  useMutation({
    mutationFn: ({ id, name }: { id: number; name: string }) =>
      answer(api.PUT('/api/snapshots/{id}', { params: { path: { id } }, body: { name } })),
    onSuccess: () => again('snapshots'),
  });

export const useRemoveSnapshot = () =>
  useMutation({
    mutationFn: (id: number) =>
      answer(api.DELETE('/api/snapshots/{id}', { params: { path: { id } } })),
    onSuccess: () => again('snapshots'),
  });

export const useRestoreSnapshot = () =>
  useMutation({
    mutationFn: (id: number) =>
      answer(api.POST('/api/snapshots/{id}/restore', { params: { path: { id } } })),
    onSuccess: async () => {
      await Promise.all([again('recipes'), again('layers'), again('shots')]);
    },
  });

/** How far two snapshots are apart; undefined before it is known. */
export const useSnapshotsApart = (a: number, b: number) =>
  useQuery({
    queryKey: ['snapshots apart', a, b],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/snapshots/{id}/apart', {
          params: { path: { id: a }, query: { from: b } },
          signal,
        }),
      ),
    retry: false,
  });
