import {
  type DataTag,
  type Query,
  type QueryKey,
  QueryClient,
  queryOptions,
  skipToken,
  useIsMutating,
  useMutation,
  useQuery,
} from '@tanstack/react-query';
import { useLocation } from 'react-router';
import { runFrames } from './frames';
import {
  answer,
  api,
  Problem,
  type Definition,
  type Delivery,
  type Events,
  type Finding,
  type Judging,
  type LedgerCheck,
  type LayerDocument,
  type PreviewJob,
  type PreviewRecipe,
  type Production,
  type Recipe,
  type Shot,
  type Marking,
  type Plan,
  type Strand,
  type StrandEstimate,
  type StrandLedger,
  type WhatIf,
} from './client';

/** Data is pushed (api/events), so nothing goes stale by itself. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: Infinity,
      refetchOnWindowFocus: false,
      retry: (n, e) => n < 2 && !(e instanceof Problem),
    },
  },
});

/** Asks again for what is shown of some lists, or of all: it has changed. */
export function outdate(...queryKey: (string | number)[]) {
  void queryClient.invalidateQueries({ queryKey });
  // A first answer that is on its way is not called off.
  queryClient
    .getQueryCache()
    .findAll({ queryKey, predicate: (q) => q.state.data === undefined })
    .forEach(askAfter);
}

/** What is asked for once more when its answer is there. */
const AFTER = new Set<string>();

/** Has what is on its way asked for again when it is there: it may be from before a change. */
function askAfter(q: Query) {
  if (q.state.fetchStatus !== 'fetching' || AFTER.has(q.queryHash)) {
    return;
  }
  AFTER.add(q.queryHash);
  const again = () => {
    AFTER.delete(q.queryHash);
    void queryClient.invalidateQueries({ queryKey: q.queryKey, exact: true });
  };
  q.promise?.then(again, again);
}

/** Takes over a change of an answer that was pushed. */
export function putPushed<T>(
  queryKey: DataTag<QueryKey, T, Error>,
  change: (old: T | undefined) => T | undefined,
) {
  queryClient.setQueryData<T>(queryKey, change);
  const q = queryClient.getQueryCache().find({ queryKey, exact: true });
  if (q) {
    askAfter(q as Query);
  }
}

export const productionsQuery = queryOptions({
  queryKey: ['productions'],
  queryFn: ({ signal }) => answer(api.GET('/api/productions', { signal })),
});

/** Asks for what belongs to a production, once it is known. */
export const of = <T>(
  production: number | undefined,
  ask: (o: { params: { query: { production: number } }; signal: AbortSignal }) => Promise<{
    data?: T;
  }>,
) =>
  production === undefined
    ? skipToken
    : ({ signal }: { signal: AbortSignal }) =>
        answer(ask({ params: { query: { production } }, signal }));
const revisionsQuery = (p?: number) =>
  queryOptions({ queryKey: ['revisions', p], queryFn: of(p, (o) => api.GET('/api/revisions', o)) });
export const shotsQuery = (p?: number) =>
  queryOptions({ queryKey: ['shots', p], queryFn: of(p, (o) => api.GET('/api/shots', o)) });
export const runStrandsQuery = (p?: number) =>
  queryOptions({
    queryKey: ['runs', p],
    queryFn: of(p, (o) => api.GET('/api/runs/strands', o)),
  });
/** How the frames of the strands that are on stand; what is still being compared is pushed. */
export const ledgerQuery = (p?: number) =>
  queryOptions({ queryKey: ['ledger', p], queryFn: of(p, (o) => api.GET('/api/ledger', o)) });

const layersQuery = (p?: number) =>
  queryOptions({ queryKey: ['layers', p], queryFn: of(p, (o) => api.GET('/api/layers', o)) });
const recipesQuery = (p?: number) =>
  queryOptions({ queryKey: ['recipes', p], queryFn: of(p, (o) => api.GET('/api/recipes', o)) });
const deliveriesQuery = (p?: number) =>
  queryOptions({
    queryKey: ['deliveries', p],
    queryFn: of(p, (o) => api.GET('/api/deliveries', o)),
  });
const strandsQuery = (p?: number) =>
  queryOptions({ queryKey: ['strands', p], queryFn: of(p, (o) => api.GET('/api/strands', o)) });

/** What is so where nobody says otherwise; it does not change while the server runs. */
export const useDefaults = () =>
  useQuery({
    queryKey: ['defaults'],
    queryFn: ({ signal }) => answer(api.GET('/api/defaults', { signal })),
  }).data;

/** The catalogue of passes; it does not change while the server runs. */
export const usePasses = () =>
  useQuery({
    queryKey: ['passes'],
    queryFn: ({ signal }) => answer(api.GET('/api/passes', { signal })),
  });
/** The kinds of files; they do not change while the server runs. */
export const useFormats = () =>
  useQuery({
    queryKey: ['formats'],
    queryFn: ({ signal }) => answer(api.GET('/api/formats', { signal })),
  });
export const runFramesQuery = (run: number | undefined) =>
  queryOptions({
    queryKey: ['frames of', run],
    queryFn:
      run === undefined
        ? skipToken
        : async ({ signal }) =>
            runFrames(
              await answer(api.GET('/api/runs/strands/{id}/frames', { ...at(run), signal })),
            ),
  });

/** The part of a request that names what it is about. */
export const at = (id: number) => ({ params: { path: { id } } });

/** The newest preview of a shot; null if there is none. */
export const previewQuery = (shot: number) =>
  queryOptions<PreviewJob | null>({
    queryKey: ['preview', shot],
    queryFn: async ({ signal }) =>
      (await api.GET('/api/shots/{id}/preview', { ...at(shot), signal })).data ?? null,
  });

/** What the server last pushed about the frame in work; null before that. */
export const progressQuery = queryOptions<Events['progress'] | null>({
  queryKey: ['progress'],
  queryFn: () => null,
});

/** Whether data can be kept; pushed when that changes. */
export const healthQuery = queryOptions({
  queryKey: ['health'],
  queryFn: ({ signal }) => answer(api.GET('/api/health', { signal })),
});

export const useHealth = () => useQuery(healthQuery).data;
export const useProductions = () => useQuery(productionsQuery);

/** The production that the address begins with. */
export function useProduction(): { data: Production | undefined } {
  const address = useLocation().pathname.split('/')[1] ?? '';
  const all = useProductions().data;
  return { data: all?.find((p) => encodeURIComponent(p.address) === address) };
}

export const useRevisions = () => useQuery(revisionsQuery(useProduction().data?.id));
export const useShots = () => useQuery(shotsQuery(useProduction().data?.id));
export const useLayers = () => useQuery(layersQuery(useProduction().data?.id));
export const useRecipes = () => useQuery(recipesQuery(useProduction().data?.id));
export const useDeliveries = () => useQuery(deliveriesQuery(useProduction().data?.id));
export const useStrands = () => useQuery(strandsQuery(useProduction().data?.id));
/** What the strands that are on take; what is still tried out is pushed. */
const estimatesQuery = (p?: number) =>
  queryOptions({
    queryKey: ['estimates', p],
    queryFn: of(p, (o) => api.GET('/api/estimates', o)),
  });
export const useEstimates = () => useQuery(estimatesQuery(useProduction().data?.id));

/** What strands that are on take by their samples. */
export const useSecondsBySamples = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['estimates', 'by samples', p],
    queryFn: of(p, (o) => api.GET('/api/estimates/samples', o)),
  }).data;
};

/** What is made of estimates is asked for again at most so often: they come by the thousand. */
const SUMMED_MS = 500;
let summed: ReturnType<typeof setTimeout> | undefined;

/** Takes over what a strand takes. */
export function putEstimate(e: StrandEstimate) {
  putPushed(estimatesQuery(e.productionId).queryKey, (all) =>
    all?.map((o) => (o.shotId === e.shotId && o.layerId === e.layerId ? e : o)),
  );
  summed ??= setTimeout(() => {
    summed = undefined;
    void queryClient.invalidateQueries({ queryKey: ['estimates', 'by samples'] });
    void queryClient.invalidateQueries({ queryKey: ['estimates', 'reach'] });
  }, SUMMED_MS);
}
export const useLedger = () => useQuery(ledgerQuery(useProduction().data?.id));
export const useRunStrands = () => useQuery(runStrandsQuery(useProduction().data?.id));
export const useRunFrames = (run: number | undefined) => useQuery(runFramesQuery(run));
/** What was frozen when a strand of a run was started; that does not change. */
export const useRunDocument = (run: number) =>
  useQuery({
    queryKey: ['settings of', run],
    queryFn: ({ signal }) =>
      answer(api.GET('/api/runs/strands/{id}/settings', { ...at(run), signal })),
  }).data;
export const useProgress = () => useQuery(progressQuery).data ?? null;

/** What is wrong with the strands that are on, errors first. */
export const useChecks = () => {
  const production = useProduction().data?.id;
  return useQuery({
    queryKey: ['checks', production],
    queryFn: of(production, (o) => api.GET('/api/runs/checks', o)),
  });
};

/** The frames of a range as written, or why it cannot be read. */
export const useFrames = (text: string | undefined) =>
  useQuery({
    queryKey: ['frames', text],
    queryFn:
      text === undefined
        ? skipToken
        : ({ signal }) => answer(api.GET('/api/frames', { params: { query: { text } }, signal })),
    retry: false,
  });

/** Meters a shot: the exposure that brings its average to middle grey; null if it was stopped. */
export const meter = (id: number, layer?: number) =>
  answer(api.POST('/api/shots/{id}/meter', { params: { path: { id }, query: { layer } } }));
export const stopMeter = (shot: number) => answer(api.DELETE('/api/shots/{id}/meter', at(shot)));

export const again = (...keys: string[]) =>
  Promise.all(keys.map((k) => queryClient.invalidateQueries({ queryKey: [k] })));

export const useAddShot = () =>
  useMutation({
    mutationFn: (body: { revisionId: number; camera: string }) =>
      answer(api.POST('/api/shots', { body })),
    onSuccess: () => again('shots'),
  });

/** Reads frames that may be written as timecodes. */
export const framesAt = (text: string, rate: number) =>
  answer(api.GET('/api/frames', { params: { query: { text, rate } } }));

/** Makes another shot like one. */
export const useCopyShot = () =>
  useMutation({
    mutationFn: (id: number) => answer(api.POST('/api/shots/{id}/copy', at(id))),
    onSuccess: () => again('shots', 'strands'),
  });

/** Makes a shot of each camera of a revision that has none. */
export const useAddAllShots = () =>
  useMutation({
    mutationFn: (revisionId: number) =>
      answer(api.POST('/api/shots/all', { body: { revisionId } })),
    onSuccess: () => again('shots', 'strands', 'ledger'),
  });

/** Brings the shots of the open production into an order. */
export const useOrderShots = () => {
  const production = useProduction().data?.id;
  return useMutation({
    ...IN_ORDER,
    mutationFn: (ids: number[]) =>
      answer(
        api.PUT('/api/shots/order', { params: { query: { production: production! } }, body: ids }),
      ),
    onSuccess: (all) => void queryClient.setQueryData(shotsQuery(production).queryKey, all),
  });
};

/** Returns a shot as it is known by now. */
export const shotNow = (id: number) =>
  queryClient
    .getQueriesData<Shot[]>({ queryKey: ['shots'] })
    .flatMap(([, all]) => all ?? [])
    .find((s) => s.id === id);

const putShot = (id: number, part: Partial<Shot>) =>
  queryClient.setQueriesData<Shot[]>({ queryKey: ['shots'] }, (all) =>
    all?.map((s) => (s.id === id ? { ...s, ...part } : s)),
  );

/**
 * Changes parts of a shot: shown at once, sent one after the other, each on top of the version that
 * the server answered last, so that quick changes do not get in each other's way.
 */
const CHANGE_SHOT = ['change shot'];

/** True while a change of a shot is on its way: what is shown then is not yet what the server has. */
export const useSavingShot = () => useIsMutating({ mutationKey: CHANGE_SHOT }) > 0;

export const useChangeShot = () =>
  useMutation({
    mutationKey: CHANGE_SHOT,
    scope: { id: 'shots' },
    mutationFn: ({ id, part }: { id: number; part: Partial<Shot> }) => {
      const shot = shotNow(id);
      if (!shot) {
        throw new Problem('This shot is gone.');
      }
      return answer(api.PUT('/api/shots/{id}', { ...at(id), body: { ...shot, ...part } }));
    },
    onMutate: ({ id, part }) => void putShot(id, part),
    onSuccess: (s, { part }) => {
      const { version } = s;
      const taken = Object.fromEntries(
        Object.keys(part).map((k) => [k, s[k as keyof Shot]]),
      ) as Partial<Shot>;
      putShot(s.id, { ...taken, version });
    },
    onError: () => again('shots'),
  });

/** Waits until all changes on their way have arrived. */
export function changesArrived(): Promise<void> {
  const busy = () => queryClient.isMutating({ mutationKey: CHANGE_SHOT }) > 0;
  return new Promise((resolve) => {
    const stop = queryClient.getMutationCache().subscribe(look);
    function look() {
      if (!busy()) {
        stop();
        resolve();
      }
    }
    look();
  });
}

/** Changes of anything that pictures are made from are sent one after the other. */
export const IN_ORDER = { mutationKey: CHANGE_SHOT, scope: { id: 'shots' } };

/** What of a definition is changed: its name, or parts of what it says. */
type Change<D> = { id: number; name?: string; part?: Partial<D> };

const changed = <D>(d: Definition<D>, { name = d.name, part }: Change<D>): Definition<D> => ({
  ...d,
  name,
  document: { ...d.document, ...part },
});

/**
 * Changes a definition as shots are changed: shown at once, sent one after the other, each on top
 * of what the server answered last.
 */
export function useChangeDefinition<D>(
  list: string,
  send: (d: Definition<D>) => Promise<{ data?: Definition<D> }>,
) {
  const put = (id: number, to: (d: Definition<D>) => Definition<D>) =>
    queryClient.setQueriesData<Definition<D>[]>({ queryKey: [list] }, (all) =>
      all?.map((d) => (d.id === id ? to(d) : d)),
    );
  const now = (id: number) =>
    queryClient
      .getQueriesData<Definition<D>[]>({ queryKey: [list] })
      .flatMap(([, all]) => all ?? [])
      .find((d) => d.id === id);
  /** Changes that come after one, and have not been answered either. */
  const after = (c: Change<D>): Change<D>[] => {
    const all = queryClient
      .getMutationCache()
      .findAll({ mutationKey: CHANGE_SHOT, status: 'pending' })
      .filter((m) => m.options.meta?.list === list)
      .map((m) => m.state.variables as Change<D>);
    return all.slice(all.indexOf(c) + 1).filter((o) => o.id === c.id);
  };
  return useMutation({
    ...IN_ORDER,
    meta: { list },
    mutationFn: (c: Change<D>) => {
      const d = now(c.id);
      if (!d) {
        throw new Problem('It was removed meanwhile.');
      }
      return answer(send(changed(d, c)));
    },
    onMutate: (c) => void put(c.id, (d) => changed(d, c)),
    // A list that was asked for before may have come since: what was answered is what counts.
    onSuccess: (answered, c) =>
      void put(answered.id, () => after(c).reduce((d, o) => changed(d, o), answered)),
    onError: () => again(list),
  });
}

export const useChangeRecipe = () =>
  useChangeDefinition<Recipe>('recipes', (d) =>
    api.PUT('/api/recipes/{id}', { ...at(d.id), body: d }),
  );

/** Makes a recipe, once changes of the one that it is a copy of have arrived. */
export const useAddRecipe = () =>
  useMutation({
    ...IN_ORDER,
    mutationFn: (body: { productionId: number; name: string; copyOf: number | null }) =>
      answer(api.POST('/api/recipes', { body })),
    onSuccess: () => again('recipes'),
  });

export const useChangeDelivery = () =>
  useChangeDefinition<Delivery>('deliveries', (d) =>
    api.PUT('/api/deliveries/{id}', { ...at(d.id), body: d }),
  );

export const useChangeLayer = () =>
  useChangeDefinition<LayerDocument>('layers', (d) =>
    api.PUT('/api/layers/{id}', { ...at(d.id), body: d }),
  );

/** How comparing fresh frames goes; null if none was asked for. */
export const checkQuery = queryOptions<LedgerCheck | null>({
  queryKey: ['check'],
  queryFn: () => null,
});
export const useLedgerCheck = () => useQuery(checkQuery).data ?? null;

/** Renders a sample of fresh frames again and compares them. */
export const useCheckLedger = () => {
  const production = useProduction().data?.id;
  return useMutation({
    mutationFn: () =>
      answer(api.POST('/api/ledger/check', { body: { productionId: production! } })),
    onSuccess: (c) => queryClient.setQueryData(checkQuery.queryKey, c),
  });
};
export const stopLedgerCheck = () => answer(api.DELETE('/api/ledger/check'));

export const useRemoveLayer = () =>
  useMutation({
    mutationFn: (id: number) => answer(api.DELETE('/api/layers/{id}', at(id))),
    onSuccess: () => again('layers', 'strands'),
  });

/** Switches strands on and off, and changes what they say of their own; shown at once. */
export const useChangeStrands = () => {
  const production = useProduction().data?.id;
  return useMutation({
    ...IN_ORDER,
    mutationFn: (body: Strand[]) =>
      answer(api.PUT('/api/strands', { params: { query: { production: production! } }, body })),
    onMutate: (some) => {
      const same = (a: Strand, b: Strand) => a.shotId === b.shotId && a.layerId === b.layerId;
      queryClient.setQueryData(strandsQuery(production).queryKey, (all) => [
        ...(all ?? []).filter((s) => !some.some((t) => same(s, t))),
        ...some,
      ]);
    },
    onSettled: () => again('strands', 'ledger', 'estimates'),
  });
};

/** A strand by its shot and layer; frames as a range, or null for all. */
export type Wanted = { shotId: number; layerId: number; frames: string | null };

/** Starts strands once all changes on their way have arrived; null for all that are on. */
export const useStartStrands = () => {
  const production = useProduction().data?.id;
  return useMutation({
    mutationFn: async (body: {
      strands: Wanted[] | null;
      comb: boolean | null;
      warnings: Finding[] | null;
    }) => {
      await changesArrived();
      return answer(api.POST('/api/runs', { body: { productionId: production!, ...body } }));
    },
    onSuccess: () => again('runs', 'ledger', 'estimates'),
  });
};

/** Where the files of a strand would lie by a delivery; what was last known stays meanwhile. */
export const usePaths = (shotId: number, layerId: number, delivery: Delivery) =>
  useQuery({
    queryKey: ['paths', shotId, layerId, delivery],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/strands/paths', { body: { shotId, layerId, delivery }, signal })),
    placeholderData: (before) => before,
  }).data;

/** What the batch would take if it were done otherwise; the first line is as it is. */
export const useWhatIf = () => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['whatif', p],
    queryFn: of(p, (o) => api.GET('/api/whatif', o)),
  }).data;
};

export const useTakeWhatIf = () => {
  const p = useProduction().data?.id;
  return useMutation({
    ...IN_ORDER,
    mutationFn: (change: WhatIf) =>
      answer(api.POST('/api/whatif', { body: { productionId: p!, change } })),
    onSuccess: () => queryClient.invalidateQueries(),
  });
};

/** The samples by which the strands are as clean as so many seconds allow. */
export const useFit = (seconds: number | undefined) => {
  const p = useProduction().data?.id;
  return useQuery({
    queryKey: ['whatif', 'fit', p, seconds],
    queryFn:
      p === undefined || seconds === undefined
        ? skipToken
        : ({ signal }) =>
            answer(api.GET('/api/fit', { params: { query: { production: p, seconds } }, signal })),
    placeholderData: (before) => before,
  }).data;
};

export const useTakeFit = () => {
  const p = useProduction().data?.id;
  return useMutation({
    ...IN_ORDER,
    mutationFn: (seconds: number) =>
      answer(api.POST('/api/fit', { body: { productionId: p!, seconds } })),
    onSuccess: () => queryClient.invalidateQueries(),
  });
};

/** How the proofs of the strands that are on stand. */
const proofsQuery = (p?: number) =>
  queryOptions({ queryKey: ['proofs', p], queryFn: of(p, (o) => api.GET('/api/proofs', o)) });
export const useProofs = () => useQuery(proofsQuery(useProduction().data?.id));

/** Renders a few frames of strands to judge them by; null for all that are on. */
export const useStartProof = () => {
  const production = useProduction().data?.id;
  return useMutation({
    mutationFn: async (strands: Wanted[] | null) => {
      await changesArrived();
      return answer(api.POST('/api/proofs', { body: { productionId: production!, strands } }));
    },
    onSuccess: () => again('runs', 'ledger', 'estimates', 'proofs', 'checks'),
  });
};

export const useJudge = () =>
  useMutation({
    mutationFn: (body: Judging) => answer(api.POST('/api/proofs/verdicts', { body })),
    onSuccess: (p) => {
      queryClient.setQueryData(proofsQuery(p.productionId).queryKey, (all) =>
        all?.map((o) => (o.shotId === p.shotId && o.layerId === p.layerId ? p : o)),
      );
      return again('checks');
    },
  });

/** Makes a preview once all changes on their way have arrived; later ones do not wait for it. */
export const useMakePreview = (id: number, layer?: number) =>
  useMutation({
    mutationFn: async ({ body, frames }: { body: PreviewRecipe; frames?: string }) => {
      await changesArrived();
      return answer(
        api.POST('/api/shots/{id}/preview', {
          params: { path: { id }, query: { layer, frames } },
          body,
        }),
      );
    },
    onSuccess: (job) => putPreview(job),
  });

export const useStopPreview = (shot: number) =>
  useMutation({
    mutationFn: () => answer(api.DELETE('/api/shots/{id}/preview', at(shot))),
    onSuccess: (job) => putPreview(job),
  });

/** Takes over the state of a preview, unless a newer one is known. */
export function putPreview(job: PreviewJob) {
  putPushed(previewQuery(job.shotId).queryKey, (old) =>
    old && (old.id > job.id || (old.id === job.id && old.done > job.done)) ? old : job,
  );
}

export const useRemoveShot = () =>
  useMutation({
    mutationFn: (s: Shot) => answer(api.DELETE('/api/shots/{id}', at(s.id))),
    onSuccess: () => again('shots', 'runs'),
  });

export const useChangeProduction = () =>
  useMutation({
    mutationFn: (p: Production) =>
      answer(api.PUT('/api/productions/{id}', { ...at(p.id), body: p })),
    onSuccess: () => again('productions', 'revisions'),
  });

export const useAddProduction = () =>
  useMutation({
    mutationFn: (body: { name: string; copyOf: number | null }) =>
      answer(api.POST('/api/productions', { body })),
    onSuccess: () => again('productions'),
  });

/** What this window can undo and redo in a production. */
export const useSteps = (production: number | undefined) =>
  useQuery({
    queryKey: ['steps', production],
    queryFn:
      production === undefined
        ? skipToken
        : ({ signal }) =>
            answer(api.GET('/api/productions/{id}/steps', { ...at(production), signal })),
  }).data;

/** Undoes or redoes this window's last change once all changes on their way have arrived. */
export const useStep = () =>
  useMutation({
    scope: { id: 'shots' },
    mutationFn: ({ production, way }: { production: number; way: 'undo' | 'redo' }) =>
      answer(api.POST(`/api/productions/{id}/${way}`, at(production))),
    onSettled: () => queryClient.invalidateQueries(),
  });

/** Takes a plan over into the open production; what is wrong with it is said by the server. */
export const useTakePlan = () => {
  const production = useProduction().data?.id;
  return useMutation({
    ...IN_ORDER,
    mutationFn: (plan: unknown) =>
      answer(api.POST('/api/productions/{id}/plan', { ...at(production!), body: plan as Plan })),
    onSuccess: () => queryClient.invalidateQueries(),
  });
};

/** What has become of a run that is over. */
export const useRunReport = (run: number) =>
  useQuery({
    queryKey: ['report', run],
    queryFn: ({ signal }) => answer(api.GET('/api/runs/{id}/report', { ...at(run), signal })),
  });

/** What can be said to a run or to one of its strands. */
export type RunCommand = 'pause' | 'resume' | 'cancel' | 'first';

export const useRunCommand = () =>
  useMutation({
    mutationFn: async (
      c: { command: RunCommand; run: number } | { command: RunCommand; strand: number },
    ) => {
      await ('run' in c
        ? answer(api.POST(`/api/runs/{id}/${c.command}`, at(c.run)))
        : answer(api.POST(`/api/runs/strands/{id}/${c.command}`, at(c.strand))));
    },
    onSuccess: () => again('runs', 'frames of'),
  });

/** Says something about frames of a strand: that they are suspect, or good enough though stale. */
export const useMark = () =>
  useMutation({
    mutationFn: (body: Marking) => answer(api.POST('/api/ledger/marks', { body })),
    onSuccess: putLedger,
  });

/** Takes over how a strand stands. */
export function putLedger(l: StrandLedger) {
  putPushed(ledgerQuery(l.productionId).queryKey, (all) =>
    all?.map((o) => (o.shotId === l.shotId && o.layerId === l.layerId ? l : o)),
  );
}
