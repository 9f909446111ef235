import { useMutation, useQuery } from '@tanstack/react-query';
import { answer, api, type Renaming, type Revision, type SceneReading } from './client';
import { again, at, of, useProduction } from './queries';

/** Revisions that have arrived and wait to be taken, newest first. */
export function useWaiting() {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['revisions', p, 'waiting'],
    queryFn: of(p, (o) => api.GET('/api/revisions/waiting', o)),
  }).data;
}

/** What is another in a revision than in another one; nothing is asked without that. */
export const useDifference = (to: Revision, from: Revision | undefined) =>
  useQuery({
    queryKey: ['difference', to.sha256, from?.sha256],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/revisions/{id}/difference', {
          params: { path: { id: to.id }, query: { from: from!.id } },
          signal,
        }),
      ),
    enabled: from !== undefined,
    retry: false,
  });

/** A sentence for each thing that would not fit a revision. */
export const useUnfit = (to: Revision, renamed: Renaming[]) =>
  useQuery({
    queryKey: ['revisions', to.id, 'unfit', renamed],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/revisions/{id}/unfit', { ...at(to.id), body: { renamed }, signal })),
    retry: false,
  });

const EVERYTHING = ['revisions', 'shots', 'layers', 'rigs', 'strands', 'ledger'];

/** Takes a revision that waits, or goes to one that is there. */
export const useTakeRevision = () =>
  useMutation({
    mutationFn: ({ id, how, renamed }: { id: number; how: 'take' | 'use'; renamed: Renaming[] }) =>
      answer(
        how === 'take'
          ? api.POST('/api/revisions/{id}/take', { ...at(id), body: { renamed } })
          : api.POST('/api/revisions/{id}/use', { ...at(id), body: { renamed } }),
      ),
    onSettled: () => again(...EVERYTHING),
  });

/** Throws a revision away that waits. */
export const useDiscardRevision = () =>
  useMutation({
    mutationFn: (id: number) => answer(api.DELETE('/api/revisions/{id}', at(id))),
    onSettled: () => again('revisions'),
  });

/** Lets a revision's file be read otherwise. */
export const useChangeReading = () =>
  useMutation({
    mutationFn: ({ id, reading }: { id: number; reading: SceneReading }) =>
      answer(api.PUT('/api/revisions/{id}/reading', { ...at(id), body: reading })),
    scope: { id: 'readings' },
    onSettled: () => again('revisions'),
  });
