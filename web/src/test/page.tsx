import { QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, configure, render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter, useLocation } from 'react-router';
import { vi } from 'vitest';
import type {
  Definition,
  Delivery,
  LayerDocument,
  Production,
  Recipe,
  Revision,
  RunStrand,
  Settings,
  Shot,
  Strand,
} from '../api/client';
import { productionsQuery, queryClient } from '../api/queries';
import { NoticeProvider } from '../shell/Notices';
import { playhead } from '../shell/playhead';
import { RefusalProvider } from '../shell/Refusals';
import { DEFAULTS } from './defaults';

configure({ asyncUtilTimeout: 20_000 });

/** A request as it reaches the server. */
export type Asked = { method: string; path: string; body: unknown };
type Answer = { status?: number; body?: unknown };
type Route = (asked: Asked) => Answer | Promise<Answer>;

/** Answers requests by "METHOD /path"; what no route knows is refused with 404. */
export class FakeServer {
  readonly asked: Asked[] = [];
  private readonly routes = new Map<string, Route>();

  constructor() {
    this.on('GET /api/defaults', DEFAULTS);
    this.on('GET /api/productions', [PRODUCTION]);
    this.on('GET /api/productions/1/steps', { undo: null, redo: null });
    this.on('GET /api/recipes?production=1', [RECIPE]);
    this.on('GET /api/deliveries?production=1', [DELIVERY]);
    this.on('GET /api/layers?production=1', [LAYER]);
    this.on('GET /api/strands?production=1', [STRAND]);
    this.on('GET /api/rigs?production=1', []);
    this.on('GET /api/revisions?production=1', []);
    vi.stubGlobal('fetch', async (request: Request) => {
      const text = await request.text();
      const path = request.url.slice(location.origin.length);
      const asked: Asked = {
        method: request.method,
        path,
        body: text ? JSON.parse(text) : undefined,
      };
      this.asked.push(asked);
      const route = this.routes.get(`${asked.method} ${path}`);
      const { status = 200, body } = route
        ? await route(asked)
        : { status: 404, body: { detail: `There is no ${path}.` } };
      return new Response(body === undefined ? '' : JSON.stringify(body), { status });
    });
  }

  on(request: string, route: Route | object): this {
    this.routes.set(
      request,
      typeof route === 'function' ? (route as Route) : () => ({ body: route }),
    );
    return this;
  }

  /** Returns what was asked for in this way, in order. */
  all(request: string): Asked[] {
    return this.asked.filter((a) => `${a.method} ${a.path}` === request);
  }
}

/** An answer that the test gives when it likes. */
export function held() {
  let give: (a: Answer) => void = () => undefined;
  const answer = new Promise<Answer>((yes) => (give = yes));
  return { give, route: () => answer };
}

/** A stream of events from the server, spoken by the test. */
export class Stream extends EventTarget {
  /** All that were opened on this page. */
  static all: Stream[] = [];
  static readonly CLOSED = 2;
  onerror?: () => void;
  closed = false;
  readyState = 1;

  constructor(readonly url: string) {
    super();
    Stream.all.push(this);
  }

  /** Says an event as the server does. */
  say(type: string, data: string) {
    act(() => {
      this.dispatchEvent(new MessageEvent(type, { data }));
    });
  }

  close() {
    this.closed = true;
  }
}

export const refusal = (status: number, detail: string) => ({ status, body: { detail } });

function Where() {
  return <output data-testid="path">{useLocation().pathname}</output>;
}

/** Shows a part of the application as a page of its own; the production is known by then. */
export function show(part: ReactNode) {
  queryClient.setQueryData(productionsQuery.queryKey, [PRODUCTION]);
  const tree = (inner: ReactNode) => (
    <QueryClientProvider client={queryClient}>
      <MemoryRouter initialEntries={['/larkspur-line/shots']}>
        <RefusalProvider>
          <NoticeProvider>
            {inner}
            <Where />
          </NoticeProvider>
        </RefusalProvider>
      </MemoryRouter>
    </QueryClientProvider>
  );
  const { rerender, unmount } = render(tree(part));
  return {
    user: userEvent.setup(),
    change: (other: ReactNode) => rerender(tree(other)),
    unmount,
  };
}

/** What the browser has and the test's page has not. */
export function openPage() {
  class Watcher {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  const nothing = new Proxy({}, { get: () => () => undefined, set: () => true });
  vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(nothing as never);
  // There is no layout here.
  Element.prototype.scrollIntoView = () => undefined;
  Object.defineProperty(document, 'fonts', {
    value: { ready: Promise.resolve() },
    configurable: true,
  });
  Stream.all = [];
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('ResizeObserver', Watcher);
  vi.stubGlobal('IntersectionObserver', Watcher);
}

export function closePage() {
  cleanup();
  queryClient.clear();
  localStorage.clear();
  sessionStorage.clear();
  playhead.to(1);
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
}

export const PRODUCTION: Production = {
  id: 1,
  version: 1,
  name: 'Larkspur Line',
  address: 'larkspur-line',
  frameRate: 24,
  width: 1280,
  height: 720,
  deadline: null,
  archived: false,
};

type Json = { [key: string]: unknown };

function over(below: Json, above: Json): Json {
  const all = { ...below };
  for (const [key, value] of Object.entries(above)) {
    const part = all[key];
    const objects = [part, value].every((v) => v && typeof v === 'object' && !Array.isArray(v));
    all[key] = objects ? over(part as Json, value as Json) : value;
  }
  return all;
}

/** Settings that say something beside the defaults. */
export const saying = (part: Json): Settings => over(DEFAULTS.settings as Json, part) as Settings;

const usual = DEFAULTS.settings;
const definition = { version: 1, productionId: 1, place: 0 };

/** A recipe that says something beside the defaults. */
export const recipe = (part: Json = {}): Definition<Recipe> => ({
  ...definition,
  id: 21,
  name: 'medium',
  document: over(usual.recipe as Json, part) as Recipe,
});

export const RECIPE = recipe({ sampling: { most: 16 } });

export const DELIVERY: Definition<Delivery> = {
  ...definition,
  id: 31,
  name: 'comp',
  document: usual.delivery,
};

export const LAYER: Definition<LayerDocument> = {
  ...definition,
  id: 11,
  name: 'main',
  document: {
    layer: usual.layer,
    passes: usual.passes,
    background: true,
    environment: null,
    recipeId: null,
    deliveryId: null,
  },
};

export const SHOT: Shot = {
  id: 7,
  version: 1,
  revisionId: 3,
  name: 'pass-wide',
  camera: 'wide',
  frames: '1-96',
  width: 1280,
  height: 720,
  scale: 50,
  place: 0,
  recipeId: RECIPE.id,
  deliveryId: DELIVERY.id,
  settings: {
    schema: 1,
    lens: usual.lens,
    shutter: usual.shutter,
    crop: null,
    clips: null,
    headHandle: 0,
    tailHandle: 0,
  },
};

export const STRAND: Strand = {
  id: 41,
  shotId: SHOT.id,
  layerId: LAYER.id,
  on: true,
  recipeId: null,
  deliveryId: null,
  passes: null,
};

export const REVISION = {
  id: 3,
  productionId: 1,
  number: 2,
  scene: 'pass',
  fileName: 'pass.glb',
  first: 1,
  last: 96,
  sha256: '',
  importedAt: '2026-03-02T10:00:00Z',
  report: {
    reading: { scale: 1, up: 'y', without: [], files: {} },
    cameras: [
      { name: 'wide', kind: 'perspective', angleDegrees: 40, heightMetres: 2, moves: true },
      { name: 'close', kind: 'perspective', angleDegrees: 20, heightMetres: 1, moves: false },
    ],
    animations: [{ name: 'dusk', start: 1 / 24, end: 4, channels: 3 }],
  },
} as unknown as Revision;

/** A run of SHOT that is half done. */
export const RUN = {
  id: 5,
  productionId: 1,
  shotId: 7,
  batch: 1,
  shot: 'pass-wide',
  layer: 'main',
  number: 1,
  state: 'RUNNING',
  total: 4,
  planned: 4,
  saved: 0,
  copied: 0,
  priority: 0,
  failure: null,
  fresh: 2,
  failed: 0,
  skipped: 0,
  secondsPerFrame: 2,
  shareCut: null,
  startedAt: '2026-03-02T10:00:00Z',
  endedAt: null,
  folder: '/films/pass-wide/v001',
  bakes: [],
  toFinish: 0,
  finishes: [],
  kind: 'BATCH',
  frames: '1-4',
  camera: 'wide',
  clamp: 4,
  width: 640,
  height: 360,
  frameRate: 24,
} as unknown as RunStrand;

/** What was frozen for it. */
export const RUN_DOCUMENT = {
  camera: 'wide',
  frames: '1-4',
  width: 640,
  height: 360,
  frameRate: 24,
  settings: saying({ recipe: { sampling: { most: 16 } } }),
  scene: 'pass',
  revision: 2,
};
