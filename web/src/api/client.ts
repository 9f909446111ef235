import type { components } from './schema';

export type Production = components['schemas']['Production'];
export type Revision = components['schemas']['Revision'];
export type SceneReport = components['schemas']['SceneReport'];
export type Health = components['schemas']['Health'];
export type Shot = components['schemas']['Shot'];
/** What can be said about pictures. */
export type Settings = components['schemas']['RenderDocument'];
export type PassName = Settings['passes']['wanted'][number];
export type FormatName = Settings['delivery']['formats'][number];
export type PreviewRecipe = components['schemas']['PreviewRecipe'];
export type Defaults = components['schemas']['Defaults'];
export type Run = components['schemas']['Run'];
export type LedgerLine = components['schemas']['LedgerLine'];
export type Formats = components['schemas']['Formats'];
export type Frames = components['schemas']['Frames'];
export type Pass = components['schemas']['PassEntry'];
export type PreviewJob = components['schemas']['PreviewJob'];
export type Clip = components['schemas']['AnimationLine'];
export type Metered = components['schemas']['Metered'];
export type Imported = components['schemas']['Imported'];
export type Steps = components['schemas']['Steps'];
export type Done = components['schemas']['Done'];
/** What every window is told of a change. */
export type Told = { productionId: number; window: string; sentence: string };

export const isOwn = (t: Told) => t.window === windowName();

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

async function call(path: string, init?: RequestInit): Promise<Response> {
  let answer: Response;
  try {
    const headers = { ...(init?.headers as Record<string, string>), 'X-Window': windowName() };
    answer = await fetch(path, { ...init, headers });
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') {
      throw e;
    }
    throw new Problem('The server does not answer; is it running?');
  }
  return checked(answer);
}

/** Returns what an answer holds; undefined if that is nothing. */
async function content<T>(answer: Response): Promise<T> {
  const text = await answer.text();
  return (text ? JSON.parse(text) : undefined) as T;
}

export async function get<T>(path: string, signal?: AbortSignal): Promise<T> {
  return content(await call(path, { signal }));
}

export async function send<T>(method: string, path: string, body?: unknown): Promise<T> {
  return content(
    await call(path, {
      method,
      headers: body === undefined ? undefined : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    }),
  );
}

export async function picture(url: string, signal: AbortSignal): Promise<Blob> {
  return (await call(url, { signal })).blob();
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
    request.open('POST', `/api/revisions?production=${production}`);
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

export function cameraPicture(revision: Revision, camera: string, frame: number, width: number) {
  return `/api/revisions/${revision.id}/picture?camera=${encodeURIComponent(camera)}&frame=${frame}&width=${width}`;
}

export function previewFilm(job: PreviewJob) {
  return `/api/shots/${job.shotId}/preview/${job.id}.mp4`;
}

export type Channel = 'colour' | 'red' | 'green' | 'blue' | 'alpha' | 'depth';

export function framePicture(
  run: number,
  frame: number,
  options: { channel?: Channel; stops?: number; most?: number; stamp?: string } = {},
) {
  const { channel = 'colour', stops = 0, most = 1920, stamp = '' } = options;
  return `/api/runs/${run}/frames/${frame}/picture?channel=${channel}&stops=${stops}&most=${most}&of=${stamp}`;
}
