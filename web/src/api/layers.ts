import { skipToken, useMutation, useQueries, useQuery } from '@tanstack/react-query';
import {
  answer,
  api,
  type Definition,
  type LayerDocument,
  type LayerRoles,
  type NewLayers,
  type RuleChange,
} from './client';
import { again, at, IN_ORDER, of, useProduction } from './queries';

export const useAddLayer = () =>
  useMutation({
    ...IN_ORDER,
    mutationFn: (body: { productionId: number; name: string; copyOf: number | null }) =>
      answer(api.POST('/api/layers', { body })),
    onSuccess: () => again('layers'),
  });

/** The objects of a revision, in the order of its tree. */
export const useObjects = (revision: number | undefined) =>
  useQuery({
    queryKey: ['revisions', revision, 'objects'],
    queryFn:
      revision === undefined
        ? skipToken
        : ({ signal }) =>
            answer(api.GET('/api/revisions/{id}/objects', { ...at(revision), signal })),
  }).data;

/** What layers make of the objects of a revision; what was last known stays meanwhile. */
export const useRoles = (layers: Definition<LayerDocument>[], revision: number | undefined) =>
  useQueries({
    queries: layers.map((l) => ({
      queryKey: ['revisions', revision, 'roles', l.id, l.version],
      queryFn:
        revision === undefined
          ? skipToken
          : ({ signal }: { signal: AbortSignal }) =>
              answer(
                api.GET('/api/layers/{id}/roles', {
                  params: { path: { id: l.id }, query: { revision } },
                  signal,
                }),
              ),
      placeholderData: (before: LayerRoles | undefined) => before,
    })),
    combine: (all) => all.map((r) => r.data),
  });

/** The lights of a revision, and what is odd about a layer's groups of them. */
export const useLights = (layer: Definition<LayerDocument>, revision: number) =>
  useQuery({
    queryKey: ['lights', layer.id, revision, layer.version],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/layers/{id}/lights', {
          params: { path: { id: layer.id }, query: { revision } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  }).data;

/** Sets of passes of the open production. */
export const usePassSets = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['passsets', p],
    queryFn: of(p, (o) => api.GET('/api/pass-sets', o)),
  }).data;
};

export const useKeepPassSet = () => {
  const production = useProduction().data?.id;
  return useMutation({
    mutationFn: (body: { name: string; document: LayerDocument['passes'] }) =>
      answer(api.POST('/api/pass-sets', { body: { productionId: production!, ...body } })),
    onSuccess: () => again('passsets'),
  });
};

export const useRemovePassSet = () =>
  useMutation({
    mutationFn: (id: number) => answer(api.DELETE('/api/pass-sets/{id}', at(id))),
    onSuccess: () => again('passsets'),
  });

/** Says something of objects in a layer. */
export const useSayOfObjects = () =>
  useMutation({
    ...IN_ORDER,
    mutationFn: ({ layer, ...body }: { layer: number } & RuleChange) =>
      answer(api.POST('/api/layers/{id}/rules', { ...at(layer), body })),
    onSettled: () => again('layers'),
  });

/** Which object is where in a shot's picture; `depends` changes with whatever that depends on. */
export const useObjectsSeen = (shot: number, frame: number, depends: string) =>
  useQuery({
    queryKey: ['objects seen', shot, frame, depends],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/shots/{id}/objects', {
          params: { path: { id: shot }, query: { frame } },
          signal,
        }),
      ),
    gcTime: 60_000,
  }).data;

/** Which part of the picture a layer with a region renders; `depends` as above. */
export const useRegion = (
  shot: number,
  layer: number,
  frame: number,
  depends: string | undefined,
) =>
  useQuery({
    queryKey: ['region', shot, layer, frame, depends],
    queryFn:
      depends === undefined
        ? skipToken
        : ({ signal }) =>
            answer(
              api.GET('/api/shots/{id}/region', {
                params: { path: { id: shot }, query: { frame, layer } },
                signal,
              }),
            ),
    placeholderData: (before) => before,
    gcTime: 60_000,
  }).data;

/** What each pass of a shot's layer looks like; `depends` as above. */
export const usePassPictures = (shot: number, layer: number, frame: number, depends: string) =>
  useQuery({
    queryKey: ['pass pictures', shot, layer, frame, depends],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/shots/{id}/passes', {
          params: { path: { id: shot }, query: { frame, layer } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    gcTime: 60_000,
  }).data;

/** Makes layers from what a scene shows. */
export const usePlanLayers = () =>
  useMutation({
    mutationFn: (body: NewLayers) => answer(api.POST('/api/layers/planned', { body })),
    onSuccess: () => again('layers'),
  });

/** Brings the layers of the open production into an order. */
export const useOrderLayers = () => {
  const production = useProduction().data?.id;
  return useMutation({
    ...IN_ORDER,
    mutationFn: (ids: number[]) =>
      answer(
        api.PUT('/api/layers/order', {
          params: { query: { production: production! } },
          body: ids,
        }),
      ),
    onSuccess: () => again('layers'),
  });
};
