import { useCallback, useEffect, useMemo, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { useProduction, useProductions } from '../api/queries';
import { playhead } from './playhead';

/** All stations in the order of the work; each has its place's number as its key. */
export const LINE = [
  'scene',
  'shots',
  'layers',
  'quality',
  'board',
  'run',
  'review',
  'assembly',
] as const;

export type Station = (typeof LINE)[number];

/** What stations can show in place of what they begin with. */
const VIEWS = [
  'proofs',
  'whatif',
  'variants',
  'effort',
  'baked',
  'snapshots',
  'recipes',
  'cameras',
  'wipe',
  'rig',
] as const;

/** Stations that can show something else. */
const VIEWED: Station[] = ['scene', 'board', 'quality'];

/** Stations whose addresses go on with the layer; those of others with a version. */
const IN_PATH: Station[] = ['layers', 'quality', 'board'];

/** Where one is: all of it stands in the address. */
export type Place = {
  production: string;
  station: Station;
  /** The name of the current shot. */
  shot?: string;
  /** The name of the current layer. */
  layer?: string;
  /** The version of that strand's files. */
  version?: number;
  /** The number of a run of that strand; several may write into one version. */
  run?: number;
  /** What the station shows in place of what it begins with. */
  view?: (typeof VIEWS)[number];
  /** What is looked at in Review in place of a strand: `film`, or a sequence such as `sequence-3`. */
  footage?: string;
  /** What it is compared with: `strand-12`, `sequence-3` or `snapshot-5`. */
  against?: string;
  /** The name of the stack that is worked on in Assembly. */
  stack?: string;
  /** A revision of a scene that is looked at in Scene, such as `larkspur-pass.r2`. */
  revision?: string;
  /** The name of the object that is chosen in Scene. */
  object?: string;
};

/** Reads an address; undefined where it is none of a production. */
export function placeOf(pathname: string, search: string): Place | undefined {
  const [production, station, shot, last] = pathname
    .split('/')
    .filter(Boolean)
    .map((p) => {
      try {
        return decodeURIComponent(p);
      } catch {
        return p;
      }
    });
  const known = LINE.find((s) => s === station);
  if (!production || !known) {
    return undefined;
  }
  const query = new URLSearchParams(search);
  return {
    production,
    station: known,
    shot,
    layer: IN_PATH.includes(known) ? last : (query.get('layer') ?? undefined),
    version: /^v\d+$/.test(last ?? '') ? Number(last!.slice(1)) : undefined,
    run: Number(query.get('run')) || undefined,
    view: VIEWS.find((v) => v === query.get('view')),
    footage: query.get('look') ?? undefined,
    against: query.get('against') ?? undefined,
    stack: query.get('stack') ?? undefined,
    revision: query.get('revision') ?? undefined,
    object: query.get('object') ?? undefined,
  };
}

/** Returns the address of a place, with the frame. */
export function addressOf(p: Place, frame: number): string {
  const version = p.version && `v${String(p.version).padStart(3, '0')}`;
  const inPath = IN_PATH.includes(p.station);
  const last = inPath ? p.layer : version;
  const path = [p.production, p.station, p.shot, p.shot && last]
    .filter((part): part is string => !!part)
    .map(encodeURIComponent)
    .join('/');
  const query = new URLSearchParams({
    ...(p.revision && p.station === 'scene' ? { revision: p.revision } : {}),
    ...(p.layer && !inPath ? { layer: p.layer } : {}),
    ...(p.object && p.station === 'scene' ? { object: p.object } : {}),
    ...(p.view && VIEWED.includes(p.station) ? { view: p.view } : {}),
    ...(p.footage && p.station === 'review' ? { look: p.footage } : {}),
    ...(p.against && p.station === 'review' ? { against: p.against } : {}),
    ...(p.stack && p.station === 'assembly' ? { stack: p.stack } : {}),
    ...(p.run ? { run: String(p.run) } : {}),
    frame: String(frame),
  });
  return `/${path}?${query}`;
}

export function usePlace(): Place | undefined {
  const { pathname, search } = useLocation();
  return useMemo(() => placeOf(pathname, search), [pathname, search]);
}

/** Follows the production that was open when its name, and with it its address, changes. */
export function useFollowingAddress() {
  const navigate = useNavigate();
  const place = usePlace();
  const productions = useProductions().data;
  const production = useProduction().data;
  const open = useRef<number>(undefined);
  useEffect(() => {
    if (production) {
      open.current = production.id;
      return;
    }
    const moved = productions?.find((p) => p.id === open.current);
    if (place && moved) {
      const to = addressOf({ ...place, production: moved.address }, playhead.now());
      void navigate(to, { replace: true });
    }
  }, [production, productions, place, navigate]);
}

/**
 * Goes to another place; what is not said stays, but version, run and what is looked at only with
 * their shot, and the view only with its station.
 */
export function useGo(): (to: Partial<Place>, how?: { replace: boolean }) => void {
  const navigate = useNavigate();
  const place = usePlace();
  return useCallback(
    (to, how) => {
      const base: Place = place ?? { production: '', station: 'scene' };
      const same = (key: 'production' | 'shot' | 'layer') =>
        to[key] === undefined || to[key] === base[key];
      const stays = same('production') && same('shot') && same('layer');
      const { version, run, view, footage, against, ...rest } = base;
      const kept = {
        ...(stays ? { version, run, footage, against } : {}),
        ...(to.station === undefined || to.station === base.station ? { view } : {}),
      };
      void navigate(addressOf({ ...rest, ...kept, ...to }, playhead.now()), how);
    },
    [navigate, place],
  );
}
