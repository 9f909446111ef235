import { queryOptions, skipToken, useMutation, useQueries, useQuery } from '@tanstack/react-query';
import {
  answer,
  api,
  sendSequence,
  type Events,
  type NewAgain,
  type NewRemark,
  type Remark,
} from './client';
import { again, of, queryClient, useProduction } from './queries';

/** Between two looks for new files of a sequence from elsewhere. */
const LOOK_AGAIN_MS = 4000;

const path = (key: string) => ({ params: { path: { key } } });

const footageQuery = (key: string | undefined, depends = '') =>
  queryOptions({
    queryKey: ['footage', key, depends],
    queryFn: key
      ? ({ signal }) => answer(api.GET('/api/footage/{key}', { ...path(key), signal }))
      : skipToken,
    staleTime: LOOK_AGAIN_MS,
    refetchInterval: key?.startsWith('sequence') ? LOOK_AGAIN_MS : false,
    retry: false,
  });

/** What there is of a strand or a sequence from elsewhere; `depends` changes when that may be more. */
export const useFootage = (key: string | undefined, depends?: string) =>
  useQuery({
    ...footageQuery(key, depends),
    placeholderData: (before) => (before?.key === key ? before : undefined),
  });
export const useFootages = (keys: string[]) =>
  useQueries({ queries: keys.map((k) => footageQuery(k)) }).map((q) => q.data);

/** What checks find; `stamp` changes with the files, `on` has them checked. */
export const useFootageCheck = (key: string | undefined, stamp: string, on: boolean) =>
  useQuery({
    queryKey: ['sequencechecks', key, stamp],
    queryFn: key
      ? ({ signal }) => answer(api.GET('/api/footage/{key}/check', { ...path(key), signal }))
      : skipToken,
    enabled: on,
    retry: false,
  });

type Checking = Events['checking'];
const checkingQuery = (key: string) =>
  queryOptions<Checking | null>({ queryKey: ['checking', key], queryFn: skipToken });

/** How far the check of a sequence is. */
export const useChecking = (key: string) => useQuery(checkingQuery(key)).data ?? null;
export const putChecking = (c: Checking) =>
  queryClient.setQueryData(checkingQuery(c.key).queryKey, c.open < 0 ? c : null);

/** How many findings of each checked sequence nobody has called fine. */
export const useOpenFindings = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['sequencechecks', 'all', p],
    queryFn: of(p, (o) => api.GET('/api/footage', o)),
  }).data;
};

type Verdict = Parameters<typeof sayVerdict>[1];
const sayVerdict = (
  key: string,
  body: {
    kind: Finding['kind'];
    frame: number;
    word: Finding['word'];
    reason: string;
    who: string;
  },
) => answer(api.PUT('/api/footage/{key}/verdicts', { ...path(key), body }));
type Finding = NonNullable<ReturnType<typeof useFootageCheck>['data']>['faults'][number];

/** Says of a finding that it is fine, or wrong. */
export const useVerdict = (key: string) =>
  useMutation({
    mutationFn: (body: Verdict) => sayVerdict(key, body),
    onSuccess: () => again('sequencechecks'),
  });

/** What all passes hold at a pixel. */
export const valuesAt = (key: string, frame: number, x: number, y: number, signal: AbortSignal) =>
  answer(
    api.GET('/api/footage/{key}/frames/{frame}/values', {
      params: { path: { key, frame }, query: { x, y } },
      signal,
    }),
  );

/** What the colours of luminance mean. */
export const useBands = () =>
  useQuery({
    queryKey: ['bands'],
    queryFn: ({ signal }) => answer(api.GET('/api/looks/bands', { signal })),
  }).data;

const NO_REMARKS: Remark[] = [];

export const useRemarks = () => {
  const p = useProduction().data?.id;
  return (
    useQuery({
      queryKey: ['remarks', p],
      queryFn: of(p, (o) => api.GET('/api/remarks', o)),
    }).data ?? NO_REMARKS
  );
};

export const useAddRemark = () =>
  useMutation({
    mutationFn: (body: NewRemark) => answer(api.POST('/api/remarks', { body })),
    onSuccess: () => again('remarks'),
  });

export const useChangeRemark = () =>
  useMutation({
    mutationFn: ({ id, text, done }: Remark) =>
      answer(api.PUT('/api/remarks/{id}', { params: { path: { id } }, body: { text, done } })),
    onSuccess: () => again('remarks'),
  });

export const useRemoveRemark = () =>
  useMutation({
    mutationFn: (id: number) =>
      answer(api.DELETE('/api/remarks/{id}', { params: { path: { id } } })),
    onSuccess: () => again('remarks'),
  });

/** All decisions about versions, the newest first. */
export const useApprovals = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['approvals', p],
    queryFn: of(p, (o) => api.GET('/api/approvals', o)),
  }).data;
};

/** What a version has that the one that was approved before it has not. */
export const useChangedFrames = (strand: number | undefined, depends: string) =>
  useQuery({
    queryKey: ['approvals', 'changes', strand, depends],
    queryFn:
      strand === undefined
        ? skipToken
        : ({ signal }) =>
            answer(
              api.GET('/api/approvals/{strand}/changes', { params: { path: { strand } }, signal }),
            ),
  }).data;

export const useDecide = () =>
  useMutation({
    mutationFn: (body: { strands: number[]; approved: boolean; who: string; note: string }) =>
      answer(api.POST('/api/approvals', { body })),
    onSuccess: () => again('approvals'),
  });

/** Sends frames back to be rendered again. */
export const useSendBack = () =>
  useMutation({
    mutationFn: (body: NewAgain) => answer(api.POST('/api/again', { body })),
    onSuccess: () => again('runs', 'ledger'),
  });

/** Sequences from elsewhere, the newest first. */
export const useSequences = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['sequences', p],
    queryFn: of(p, (o) => api.GET('/api/sequences', o)),
  }).data;
};

/** Opens what lies at a path of the server's machine, or what is sent. */
export const useOpenSequence = () => {
  const production = useProduction().data?.id;
  return useMutation({
    mutationFn: (from: { path: string } | { files: File[] } | { shot: number; preview: number }) =>
      'path' in from
        ? answer(
            api.POST('/api/sequences', { body: { productionId: production!, path: from.path } }),
          )
        : 'files' in from
          ? sendSequence(production!, from.files)
          : answer(
              api.POST('/api/sequences/preview', {
                body: { productionId: production!, shotId: from.shot, number: from.preview },
              }),
            ),
    onSuccess: () => again('sequences'),
  });
};

export const useSequenceRate = () =>
  useMutation({
    mutationFn: ({ id, frameRate }: { id: number; frameRate: number }) =>
      answer(api.PUT('/api/sequences/{id}', { params: { path: { id } }, body: { frameRate } })),
    onSuccess: () => again('sequences', 'footage'),
  });

export const useCloseSequence = () =>
  useMutation({
    mutationFn: (id: number) =>
      answer(api.DELETE('/api/sequences/{id}', { params: { path: { id } } })),
    onSuccess: () => again('sequences'),
  });
