import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import { answer, api, type Definition, type FilmOutput, type NewFilm, type Stack } from './client';
import { again, IN_ORDER, of, useChangeDefinition, useProduction } from './queries';

export type StackDefinition = Definition<Stack>;

/** The stacks of the production. */
export const useStacks = () => {
  const p = useProduction().data?.id;
  return useQuery({ queryKey: ['stacks', p], queryFn: of(p, (o) => api.GET('/api/stacks', o)) })
    .data;
};

export const useAddStack = () =>
  useMutation({
    ...IN_ORDER,
    mutationFn: (body: { productionId: number; name: string; document: Stack }) =>
      answer(api.POST('/api/stacks', { body })),
    onSuccess: () => again('stacks'),
  });

export const useChangeStack = () =>
  useChangeDefinition<Stack>('stacks', (d) =>
    api.PUT('/api/stacks/{id}', { params: { path: { id: d.id } }, body: d }),
  );

export const useRemoveStack = () =>
  useMutation({
    ...IN_ORDER,
    mutationFn: (id: number) =>
      answer(api.DELETE('/api/stacks/{id}', { params: { path: { id } } })),
    onSuccess: () => again('stacks'),
  });

/** What was rendered, of which inputs can be made. */
export const useOffered = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['rendered', 'offered', p],
    queryFn: of(p, (o) => api.GET('/api/assemblies/sources', o)),
  }).data;
};

export const useMixes = (shot: number | undefined, layer?: number) => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['rendered', 'mixes', p, shot, layer],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/assemblies/mixes', {
          params: { query: { production: p!, shot: shot!, layer } },
          signal,
        }),
      ),
    enabled: p !== undefined && shot !== undefined,
  }).data;
};

export const useOperators = () =>
  useQuery({
    queryKey: ['operators'],
    queryFn: ({ signal }) => answer(api.GET('/api/assemblies/operators', { signal })),
    staleTime: Infinity,
  }).data;

/** Inputs and parts of them as they are where nobody says otherwise. */
export const useUsual = () =>
  useQuery({
    queryKey: ['usual'],
    queryFn: ({ signal }) => answer(api.GET('/api/assemblies/usual', { signal })),
    staleTime: Infinity,
  }).data;

export type Checked = 'PARTS' | 'LAYERS';

/** How far parts or layers are from the picture that was rendered at once. */
export const useRebuild = (
  shot: number | undefined,
  layer: number | undefined,
  frame: number,
  checked: Checked,
) => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['rendered', 'rebuild', p, shot, layer, frame, checked],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/assemblies/rebuild', {
          params: { query: { production: p!, shot: shot!, layer: layer!, frame, checked } },
          signal,
        }),
      ),
    enabled: p !== undefined && shot !== undefined && layer !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  });
};

/** How the files of a pass are read where nobody says otherwise. */
export const useReadAs = (footage: string | null, pass: string) =>
  useQuery({
    queryKey: ['rendered', 'readas', footage, pass],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/assemblies/read-as', {
          params: { query: { footage: footage!, pass } },
          signal,
        }),
      ),
    enabled: footage !== null,
    retry: false,
  }).data;

/** What an ID matte says is at a place. */
export const namesAt = (footage: string, pass: string, frame: number, x: number, y: number) =>
  answer(api.GET('/api/assemblies/names', { params: { query: { footage, pass, frame, x, y } } }));

/** What somebody should know about the inputs at a frame. */
export const useWords = (stack: Stack, frame: number) =>
  useQuery({
    queryKey: ['rendered', 'words', stack, frame],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/assemblies/words', { body: { stack, frame }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 10_000,
  }).data;

/** The numbers at a pixel after each input. */
export const stepsAt = (stack: Stack, frame: number, x: number, y: number, signal: AbortSignal) =>
  answer(api.POST('/api/assemblies/steps', { body: { stack, frame, x, y }, signal }));

/** The films of the production, the newest first. */
export const useFilms = () => {
  const p = useProduction().data?.id;
  return useQuery({ queryKey: ['films', p], queryFn: of(p, (o) => api.GET('/api/films', o)) }).data;
};

export const useStartFilm = () =>
  useMutation({
    mutationFn: (body: NewFilm) => answer(api.POST('/api/films', { body })),
    onSuccess: () => again('films'),
  });

/** What can be said to a film. */
export const useSayToFilm = () =>
  useMutation({
    mutationFn: ({ id, word }: { id: number; word: 'cancel' | 'resume' | 'update' | 'remove' }) => {
      const path = { params: { path: { id } } };
      switch (word) {
        case 'cancel':
          return answer<unknown>(api.POST('/api/films/{id}/cancel', path));
        case 'resume':
          return answer<unknown>(api.POST('/api/films/{id}/resume', path));
        case 'update':
          return answer<unknown>(api.POST('/api/films/{id}/update', path));
        case 'remove':
          return answer<unknown>(api.DELETE('/api/films/{id}', path));
      }
    },
    onSuccess: () => again('films'),
  });

/** Makes a film of footage as it is, to look at. */
export function useMakeFilm() {
  const production = useProduction().data?.id;
  const start = useStartFilm();
  const output = useUsual()?.output;
  return (name: string, title: string, footage: string, part: Partial<FilmOutput> = {}) =>
    start.mutateAsync({
      productionId: production!,
      name,
      width: 0,
      height: 0,
      segments: [{ title, stackId: null, footage, frames: null }],
      output: { ...output!, ...part },
    });
}

/** What can be handed over; asked for anew each time it is looked at. */
export const useHandoverOffers = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['rendered', 'offers', p],
    queryFn: of(p, (o) => api.GET('/api/handovers/offers', o)),
    staleTime: 0,
  });
};

export const useHandovers = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['handovers', p],
    queryFn: of(p, (o) => api.GET('/api/handovers', o)),
  }).data;
};

export const useHandOver = () =>
  useMutation({
    mutationFn: (body: {
      productionId: number;
      keys: string[];
      path: string | null;
      copy: boolean;
    }) => answer(api.POST('/api/handovers', { body })),
    onSuccess: () => again('handovers'),
  });

const handover = (id: number) => ({ params: { path: { id } } });

export const useSayToHandover = () =>
  useMutation({
    mutationFn: ({ id, word }: { id: number; word: 'cancel' | 'remove' }) =>
      word === 'cancel'
        ? answer<unknown>(api.POST('/api/handovers/{id}/cancel', handover(id)))
        : answer<unknown>(api.DELETE('/api/handovers/{id}', handover(id))),
    onSuccess: () => again('handovers'),
  });

/** Reads a folder back. */
export const useCheckHandover = () =>
  useMutation({
    mutationFn: (id: number) => answer(api.POST('/api/handovers/{id}/check', handover(id))),
  });
