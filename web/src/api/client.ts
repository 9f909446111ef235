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
export type Variant = components['schemas']['Variant'];
export type Variants = components['schemas']['Variants'];
export type Effort = components['schemas']['Effort'];
export type Spot = components['schemas']['Spot'];
export type BakedTrialEvents = components['schemas']['BakedTrialEvents'];
export type BakedTrial = components['schemas']['BakedTrial'];
export type Snapshot = components['schemas']['Snapshot'];
export type FootageCheck = components['schemas']['FootageCheck'];
export type Fault = components['schemas']['FootageFault'];
export type FootageInfo = components['schemas']['FootageInfo'];
export type OutsideSequence = components['schemas']['OutsideSequence'];
export type Remark = components['schemas']['Remark'];
export type NewRemark = components['schemas']['NewRemark'];
export type Approval = components['schemas']['Approval'];
export type NewAgain = components['schemas']['NewAgain'];
export type Stack = components['schemas']['Stack'];
export type SceneRig = components['schemas']['SceneRig'];
export type Rig = components['schemas']['RigDocument'];
export type RigCamera = components['schemas']['RigCamera'];
export type RigLight = components['schemas']['RigLight'];
export type RigKey = components['schemas']['RigKey'];
export type Ease = RigKey['ease'];
export type StopsMove = components['schemas']['StopsMove'];
export type PathSpeed = components['schemas']['CameraSpeed'];
export type Input = components['schemas']['Input'];
export type Mask = components['schemas']['Mask'];
export type Corrections = components['schemas']['Corrections'];
export type Offered = components['schemas']['Offered'];
export type MixLine = components['schemas']['MixLine'];
export type OperatorLine = components['schemas']['OperatorLine'];
export type StackPicture = components['schemas']['StackPicture'];
export type StepLine = components['schemas']['StepLine'];
export type HandoverOffer = components['schemas']['Offer'];
export type Handed = components['schemas']['Handed'];
export type FilmLine = components['schemas']['FilmLine'];
export type FilmOutput = components['schemas']['FilmOutput'];
export type NewFilm = components['schemas']['NewFilm'];
export type Usual = components['schemas']['Usual'];
export type PixelValues = components['schemas']['PixelValues'];
export type StrandReach = components['schemas']['StrandReach'];
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
export type Plan = Record<string, unknown>;
export type Marking = components['schemas']['Marking'];
export type Frames = components['schemas']['Frames'];
export type Pass = components['schemas']['PassEntry'];
export type PreviewJob = components['schemas']['PreviewJob'];
export type CutJob = components['schemas']['CutJob'];
export type CutWish = components['schemas']['CutWish'];
export type Clip = components['schemas']['AnimationLine'];
export type SceneDifference = components['schemas']['SceneDifference'];
export type Renaming = components['schemas']['Renaming'];
export type SceneReading = components['schemas']['SceneReading'];
export type Imported = components['schemas']['Imported'];
export type LiveUpdate = components['schemas']['Update'];
/** What the server pushes, by the names of the events. */
export type Events = components['schemas']['Events'];
export type Session = components['schemas']['Session'];
/** An error with a sentence fit to be shown. */
export class Problem extends Error {}

/** Event of the window: the server asks for the password again. */
export const SIGNED_OUT = 'posada-signed-out';

/** Turns a refused answer into a Problem. */
async function checked(answer: Response): Promise<Response> {
  if (answer.ok) {
    return answer;
  }
  if (answer.status === 401) {
    window.dispatchEvent(new Event(SIGNED_OUT));
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
    // Not randomUUID: browsers have it for encrypted lines only.
    name = Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) =>
      b.toString(16).padStart(2, '0'),
    ).join('');
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

/** Returns a picture of a stack, and how many milliseconds the server took for it. */
export async function stackPicture(
  body: StackPicture,
  signal: AbortSignal,
): Promise<{ blob: Blob; millis: number }> {
  const made = await checked(
    await fetch('/api/assemblies/picture', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
      signal,
    }),
  );
  const said = /dur=([\d.]+)/.exec(made.headers.get('Server-Timing') ?? '');
  return { blob: await made.blob(), millis: Number(said?.[1] ?? 0) };
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
    // A newer revision waits until it is taken.
    request.open('POST', `/api/revisions?production=${production}&hold=true`);
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

/**
 * Adds a picture to a revision's files.
 *
 * @param instead name of a missing file in whose place it is used
 */
export async function addPicture(
  revision: number,
  file: File,
  instead?: string,
): Promise<components['schemas']['AddedPicture']> {
  const form = new FormData();
  form.append('file', file);
  const query = instead === undefined ? '' : `?instead=${encodeURIComponent(instead)}`;
  const made = await checked(
    await fetch(`/api/revisions/${revision}/pictures${query}`, {
      method: 'POST',
      headers: { 'X-Window': windowName() },
      body: form,
    }),
  );
  return (await made.json()) as components['schemas']['AddedPicture'];
}

/** Lets somebody choose a file; hears of it if one is chosen. */
export function pickFile(accept: string, taken: (file: File) => void) {
  const input = document.createElement('input');
  input.type = 'file';
  input.accept = accept;
  input.onchange = () => input.files?.[0] && taken(input.files[0]);
  input.click();
}

export const cameraPicture = (
  revision: Revision,
  camera: string,
  frame: number,
  width: number,
  /** Counts changes of the scene's rig. */
  rig = 0,
) =>
  urlOf('/api/revisions/{id}/picture', {
    path: { id: revision.id },
    query: { camera, frame, width, rig, read: revision.sha256.slice(0, 12) },
  });

/** Bytes of the view of a scene; see space/blocks. */
export async function spaceBytes(
  revision: number,
  part: '' | '/shapes' | '/poses' | '/bent',
  query: Record<string, string | number>,
  signal: AbortSignal,
): Promise<ArrayBuffer> {
  const asked = new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)]));
  const at = urlOf('/api/revisions/{id}/space', { path: { id: revision } });
  const got = await checked(await fetch(`${at}${part}?${asked}`, { signal }));
  return got.arrayBuffer();
}

export const previewFilm = (job: PreviewJob) =>
  urlOf('/api/shots/{id}/preview/{number}.mp4', {
    path: { id: job.shotId, number: job.id },
  });

export const cutFile = (job: CutJob, save = false) =>
  urlOf('/api/productions/{id}/cut/{number}', {
    path: { id: job.productionId, number: job.id },
    query: { save },
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
  p?: Part,
) => {
  // One number after the other, as a list is read.
  const part = p && `&part=${[p.x, p.y, p.width, p.height].map((v) => v.toFixed(5)).join()}`;
  return `${urlOf('/api/shots/{id}/live', { path: { id }, query: { viewer, frame, most, shown, layer } })}${part ?? ''}`;
};

/** What a live picture shows of a layer, or of all that are on. */
export type Shown = NonNullable<
  paths['/api/shots/{id}/live']['get']['parameters']['query']['shown']
>;

/** A part of a picture: shares of its width and height from the top left corner. */
export type Part = { x: number; y: number; width: number; height: number };

export const ladder = (
  id: number,
  viewer: string,
  frame: number,
  layer: number,
  part: Part,
  adaptive: boolean,
) =>
  urlOf('/api/shots/{id}/ladder', {
    path: { id },
    query: { viewer, frame, layer, ...part, adaptive },
  });

export const bakedTrial = (id: number, viewer: string, frame: number, layer: number) =>
  urlOf('/api/shots/{id}/baked-light/trial', { path: { id }, query: { viewer, frame, layer } });

/** @param depends changes with whatever the picture depends on */
export const passPicture = (
  shot: number,
  layer: number,
  frame: number,
  name: string,
  depends: string,
) =>
  `${urlOf('/api/shots/{id}/passes/{name}', { path: { id: shot, name }, query: { layer, frame } })}&for=${encodeURIComponent(depends)}`;

export const snapshotPicture = (id: number) =>
  urlOf('/api/snapshots/{id}/picture', { path: { id } });

/** Hears what a stream sends until it ends or is left; returns how to leave. */
export function listen<E extends object>(
  url: string,
  hear: { [K in keyof E]: (body: E[K]) => void } & {
    /** Hears why it ended before it was done, in a sentence. */
    failed: (why: string) => void;
    ended: () => void;
  },
): () => void {
  const source = new EventSource(url);
  for (const [name, take] of Object.entries<(body: never) => void>(hear)) {
    if (name !== 'ended') {
      source.addEventListener(name, (e) => {
        const { data } = e as MessageEvent<string>;
        take((name === 'failed' ? data : JSON.parse(data)) as never);
      });
    }
  }
  // It ends with what is sent last; the browser must not ask for it again.
  source.onerror = () => {
    source.close();
    hear.ended();
  };
  return () => source.close();
}

/**
 * Asks for several settings of a part of a picture, and hears how each stands until all are done.
 *
 * @throws Problem if it is refused, or fails later
 */
export async function compareVariants(
  shot: number,
  body: Variants,
  hear: (v: Variant) => void,
  signal: AbortSignal,
): Promise<void> {
  const sent = await checked(
    await fetch(`/api/shots/${shot}/variants`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Window': windowName() },
      body: JSON.stringify(body),
      signal,
    }),
  );
  for await (const { name, data } of eventsOf(sent.body!)) {
    if (name === 'failed') {
      throw new Problem(data);
    }
    if (name === 'variant') {
      hear(JSON.parse(data) as Variant);
    }
  }
}

/** The events of a stream, each by its name (HTML Living Standard, section 9.2). */
async function* eventsOf(body: ReadableStream<Uint8Array>) {
  const reader = body.getReader();
  const decoder = new TextDecoder();
  let text = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) {
      return;
    }
    text += decoder.decode(value, { stream: true });
    for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
      const lines = text.slice(0, end).split('\n');
      text = text.slice(end + 2);
      const of = (key: string) =>
        lines.filter((l) => l.startsWith(key)).map((l) => l.slice(key.length));
      yield { name: of('event:')[0], data: of('data:').join('\n') };
    }
  }
}

type PictureQuery = NonNullable<
  paths['/api/footage/{key}/frames/{frame}/picture']['get']['parameters']['query']
>;

/** How a picture is looked at. */
export type Look = Required<Omit<PictureQuery, 'most'>>;

/** A picture as it is delivered. */
export const AS_DELIVERED: Look = {
  pass: 'beauty',
  shown: 'COLOUR',
  view: 'STANDARD',
  stops: 0,
  gamma: 1,
};

/** Longest side of the small pictures that are kept of finished frames, pixels. */
export const PROXY = 1280;

/** @param key of what is looked at, such as `strand-12` or `sequence-3` */
export function footagePicture(
  key: string,
  frame: number,
  { most = PROXY, ...look }: Partial<Look> & { most?: number } = {},
) {
  const said = Object.entries(look).filter(([k, v]) => v !== AS_DELIVERED[k as keyof Look]);
  return urlOf('/api/footage/{key}/frames/{frame}/picture', {
    path: { key, frame },
    query: { ...Object.fromEntries(said), ...(most === PROXY ? {} : { most }) },
  });
}

export const strandKey = (id: number) => `strand-${id}`;

export const framePicture = (strand: number, frame: number, options: { most?: number } = {}) =>
  footagePicture(strandKey(strand), frame, options);

export const reviewPackage = (production: number, strands: number[]) =>
  urlOf('/api/review/package', { query: { production, strands } });

/** Sends a zip, a film or numbered pictures. */
export async function sendSequence(production: number, files: File[]): Promise<OutsideSequence[]> {
  const form = new FormData();
  files.forEach((f) => form.append('file', f));
  const sent = await checked(
    await fetch(urlOf('/api/sequences', { query: { production } }).replace('?', '/files?'), {
      method: 'POST',
      headers: { 'X-Window': windowName() },
      body: form,
    }),
  );
  return (await sent.json()) as OutsideSequence[];
}
