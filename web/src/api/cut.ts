import { queryOptions, useMutation } from '@tanstack/react-query';
import { answer, api, type CutJob, type CutWish } from './client';
import { at, changesArrived, putPushed } from './queries';

/** What was drawn last of several shots; null if nothing was. */
export const cutQuery = (production: number | undefined) =>
  queryOptions<CutJob | null>({
    queryKey: ['cut', production],
    queryFn: async ({ signal }) =>
      (await api.GET('/api/productions/{id}/cut', { ...at(production!), signal })).data ?? null,
    enabled: production !== undefined,
  });

/** Takes over the state of what is drawn, unless a newer one is known. */
export function putCut(job: CutJob) {
  putPushed(cutQuery(job.productionId).queryKey, (old) =>
    old && (old.id > job.id || (old.id === job.id && old.done > job.done)) ? old : job,
  );
}

/** Draws several shots once all changes on their way have arrived. */
export const useDrawCut = (production: number | undefined) =>
  useMutation({
    mutationFn: async (body: CutWish) => {
      await changesArrived();
      return answer(api.POST('/api/productions/{id}/cut', { ...at(production!), body }));
    },
    onSuccess: putCut,
  });

export const useStopCut = (production: number | undefined) =>
  useMutation({
    mutationFn: () => answer(api.DELETE('/api/productions/{id}/cut', at(production!))),
    onSuccess: putCut,
  });
