import createClient, {
  createFinalURL,
  createQuerySerializer,
  defaultPathSerializer,
} from 'openapi-fetch';
import type { PathsWithMethod } from 'openapi-typescript-helpers';
import type { components, paths } from './schema';

export type Production = components['schemas']['Production'];
export type Revision = components['schemas']['Revision'];
export type SceneReport = components['schemas']['SceneReport'];
export type Health = components['schemas']['Health'];
export type Shot = components['schemas']['Shot'];
export type Defaults = components['schemas']['Defaults'];
/** What can be said about pictures. */
export type Settings = components['schemas']['RenderDocument'];
export type PassName = Settings['passes']['wanted'][number];
export type FormatName = Settings['delivery']['formats'][number];
export type Recipe = components['schemas']['Recipe'];
export type Delivery = components['schemas']['Delivery'];
export type LayerDocument = components['schemas']['LayerDocument'];
/** Something that a production makes under a name. */
export type Definition<D> = Omit<components['schemas']['DefinitionRecipe'], 'document'> & {
  document: D;
};
/** What is wrong, or may be, before a batch is started. */
export type Finding = components['schemas']['Finding'];
export type Extra = Delivery['extras'][number];
export type Checks = components['schemas']['Found'];
export type StrandProof = components['schemas']['StrandProof'];
export type ProofFrame = StrandProof['frames'][number];
export type WhatIfLine = components['schemas']['Line'];
export type WhatIf = NonNullable<WhatIfLine['change']>;
export type Fitting = components['schemas']['Fitting'];
export type LedgerCheck = components['schemas']['LedgerCheck'];
export type NewLayers = components['schemas']['NewLayers'];
export type SceneObject = components['schemas']['SceneObject'];
export type LayerRoles = components['schemas']['LayerRoles'];
export type RuleChange = components['schemas']['RuleChange'];
export type ObjectsSeen = components['schemas']['Objects'];
export type PassPicture = components['schemas']['PassPicture'];
export type PartOfPicture = components['schemas']['PartOfPicture'];
export type Rung = components['schemas']['Rung'];
export type SecondsBySamples = components['schemas']['SecondsBySamples'];
export type Judging = components['schemas']['Judging'];
export type Strand = components['schemas']['Strand'];
export type PreviewRecipe = components['schemas']['PreviewRecipe'];
export type RunStrand = components['schemas']['RunStrand'];
export type FrameLine = components['schemas']['FrameLine'];
export type StrandFrames = components['schemas']['StrandFrames'];
export type StrandLedger = components['schemas']['StrandLedger'];
export type StrandEstimate = components['schemas']['StrandEstimate'];
export type Figure = components['schemas']['Figure'];
export type Plan = components['schemas']['PlanDocument'];
export type Marking = components['schemas']['Marking'];
export type Frames = components['schemas']['Frames'];
export type Pass = components['schemas']['PassEntry'];
export type PreviewJob = components['schemas']['PreviewJob'];
export type Clip = components['schemas']['AnimationLine'];
export type Imported = components['schemas']['Imported'];
export type LiveUpdate = components['schemas']['Update'];
/** What the server pushes, by the names of the events. */
export type Events = components['schemas']['Events'];
/** An error with a sentence fit to be shown. */
export class Problem extends Error {}

/** Turns a refused answer into a Problem. */
async function checked(answer: Response): Promise<Response> {
  if (answer.ok) {
    return answer;
  }
  let detail = `The server answered ${answer.status}.`;
  try {
    const body = (await answer.json()) as { detail?: string };
    detail = body.detail ?? detail;
  } catch {
    // No problem document: the status has to do.
  }
  throw new Problem(detail);
}

const WINDOW = 'posada-window';

/** This window, as the log of changes knows it; it outlives a reload. */
function windowName(): string {
  let name = sessionStorage.getItem(WINDOW);
  if (!name) {
    name = crypto.randomUUID();
    sessionStorage.setItem(WINDOW, name);
  }
  return name;
}

/** How this window is called where another one is told of its changes. */
export const windowMark = () => windowName().slice(0, 4).toUpperCase();

/** Asks the server; a refusal is a Problem. */
export const api = createClient<paths>({ baseUrl: location.origin, fetch: (r) => fetch(r) });

api.use({
  onRequest: ({ request }) => request.headers.set('X-Window', windowName()),
  onResponse: async ({ response }) => void (await checked(response)),
  onError: ({ error }) =>
    error instanceof DOMException && error.name === 'AbortError'
      ? undefined
      : new Problem('The server does not answer; is it running?'),
});

/** Returns what an answer holds; undefined if that is nothing. */
export async function answer<T>(asked: Promise<{ data?: T }>): Promise<T> {
  return (await asked).data as T;
}

type Read = PathsWithMethod<paths, 'get'>;

/** Returns the address of something that can be read. */
export function urlOf<P extends Read>(
  path: P,
  params: Pick<paths[P]['get']['parameters'], 'path' | 'query'>,
): string {
  return createFinalURL(path, {
    baseUrl: '',
    params,
    querySerializer: createQuerySerializer(),
    pathSerializer: defaultPathSerializer,
  });
}

export async function picture(url: string, signal: AbortSignal): Promise<Blob> {
  return (await checked(await fetch(url, { signal }))).blob();
}

/** Uploads a scene; `progress` hears fractions from 0 to 1. */
export function upload(
  production: number,
  file: File,
  progress: (fraction: number) => void,
  signal: AbortSignal,
): Promise<Imported> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', urlOf('/api/revisions', { query: { production } }));
    request.setRequestHeader('X-Window', windowName());
    request.upload.onprogress = (e) => progress(e.total ? e.loaded / e.total : 0);
    request.onerror = () => reject(new Problem('The server does not answer; is it running?'));
    request.onabort = () => reject(new DOMException('stopped', 'AbortError'));
    request.onload = () => {
      const answer = new Response(request.responseText, { status: request.status });
      checked(answer)
        .then((a) => a.json() as Promise<Imported>)
        .then(resolve, reject);
    };
    signal.addEventListener('abort', () => request.abort());
    const form = new FormData();
    form.append('file', file);
    request.send(form);
  });
}

export const cameraPicture = (revision: Revision, camera: string, frame: number, width: number) =>
  urlOf('/api/revisions/{id}/picture', {
    path: { id: revision.id },
    query: { camera, frame, width },
  });

export const previewFilm = (job: PreviewJob) =>
  urlOf('/api/shots/{id}/preview/{number}.mp4', {
    path: { id: job.shotId, number: job.id },
  });

export const runArchive = (id: number) => urlOf('/api/runs/strands/{id}/archive', { path: { id } });

/** @param moment changes with the picture */
export const inWorkPicture = (id: number, moment: string) =>
  `${urlOf('/api/runs/strands/{id}/now', { path: { id } })}?at=${encodeURIComponent(moment)}`;

export const planFile = (production: number) =>
  urlOf('/api/productions/{id}/plan', { path: { id: production } });

export const reportTable = (run: number) =>
  urlOf('/api/runs/{id}/report.csv', { path: { id: run } });

export const livePicture = (
  id: number,
  viewer: string,
  frame: number,
  most: number,
  layer: number,
  shown?: Shown,
) => urlOf('/api/shots/{id}/live', { path: { id }, query: { viewer, frame, most, shown, layer } });

/** What a live picture shows of a layer, or of all that are on. */
export type Shown = NonNullable<
  paths['/api/shots/{id}/live']['get']['parameters']['query']['shown']
>;

/** A part of a picture: shares of its width and height from the top left corner. */
export type Part = { x: number; y: number; width: number; height: number };

export const ladder = (id: number, viewer: string, frame: number, layer: number, part: Part) =>
  urlOf('/api/shots/{id}/ladder', { path: { id }, query: { viewer, frame, layer, ...part } });

export type Channel = 'colour' | 'red' | 'green' | 'blue' | 'alpha' | 'depth';

export function framePicture(
  id: number,
  frame: number,
  options: { channel?: Channel; stops?: number; most?: number } = {},
) {
  const { channel = 'colour', stops = 0, most = 1920 } = options;
  return urlOf('/api/runs/strands/{id}/frames/{frame}/picture', {
    path: { id, frame },
    query: { channel, stops, most },
  });
}
