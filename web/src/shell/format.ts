import type { Clip, Delivery, Events, Extra, Recipe, Settings } from '../api/client';

/** Returns hours, minutes, seconds and frames, without drop, at the nearest whole rate. */
export function timecode(frame: number, rate: number): string {
  const base = Math.round(rate);
  const s = Math.floor(frame / base);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(Math.floor(s / 3600) % 24)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}:${two(frame % base)}`;
}

/** Returns a duration as people say it: `4.2 s`, `3 min 20 s`, `1 h 12 min`. */
export function duration(seconds: number): string {
  if (seconds < 9.95) {
    return `${seconds.toFixed(1)} s`;
  }
  const s = Math.round(seconds);
  if (s < 60) {
    return `${s} s`;
  }
  if (s < 3600) {
    return s % 60 ? `${Math.floor(s / 60)} min ${s % 60} s` : `${s / 60} min`;
  }
  return `${Math.floor(s / 3600)} h ${Math.floor(s / 60) % 60} min`;
}

export function bytes(n: number): string {
  if (n < 1e6) {
    return `${(n / 1e3).toFixed(0)} kB`;
  }
  return n < 1e9 ? `${(n / 1e6).toFixed(1)} MB` : `${(n / 1e9).toFixed(2)} GB`;
}

/** Returns a number with that many digits, or more where it is larger; never with a power of ten. */
function digits(n: number, most: number): string {
  const text = n.toPrecision(most);
  return text.includes('e+') ? n.toFixed(0) : text;
}

export function metres(m: number): string {
  if (m < 1) {
    return `${digits(m * 100, 2)} cm`;
  }
  return m < 1000 ? `${digits(m, 3)} m` : `${digits(m / 1000, 2)} km`;
}

const DAYS = 86_400;

/** Returns the local time of a moment that many seconds from now, with its day unless it is today. */
export function clockIn(seconds: number, now = Date.now()): string {
  const then = new Date(now + seconds * 1000);
  const time = then.toLocaleTimeString([], {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  });
  if (then.toDateString() === new Date(now).toDateString()) {
    return time;
  }
  const day: Intl.DateTimeFormatOptions =
    seconds < 6 * DAYS ? { weekday: 'short' } : { day: 'numeric', month: 'short' };
  return `${then.toLocaleDateString('en-GB', day)} ${time}`;
}

/** What is made of the frames of a strand. */
export const EXTRAS: Record<Extra, string> = {
  film: 'film',
  'contact-sheet': 'contact sheet',
  manifest: 'manifest',
};

type Progress = Pick<Events['progress'], 'kind' | 'extra' | 'frame' | 'secondsLeft'>;

/** With a capital letter at its beginning. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** When a run is ready, or what is done once for all its frames. */
export function readyText({ kind, extra, secondsLeft }: Progress) {
  const what = kind === 'BAKE' ? 'light ready' : extra ? `${EXTRAS[extra]} ready` : 'ready';
  return `${what} ${clockIn(secondsLeft)}`;
}

/** What a worker is at. */
export const doingText = ({ kind, extra, frame }: Omit<Progress, 'secondsLeft'>) =>
  kind === 'BAKE' ? 'baking light' : extra ? `making the ${EXTRAS[extra]}` : `frame ${frame}`;

/** What a run does of which nothing has been heard yet. */
export const stillText = (run: { fresh: number }) => (run.fresh > 0 ? 'rendering' : 'starting');

/** A large number in groups of three digits. */
export const count = (n: number) => n.toLocaleString('en-US').replaceAll(',', ' ');

/** The version of a render. */
export const version = (n: number) => `v${String(n).padStart(3, '0')}`;

/** The revision of a scene. */
export const revision = (n: number) => `r${n}`;

/** Returns a frame rate without needless digits. */
export const rateText = (r: number) => `${Number(r.toFixed(3))} fps`;

/** A share of 0 .. 1 as percent, exact enough to tell small ones apart. */
export const percent = (share: number) => `${(100 * share).toFixed(share < 0.0995 ? 1 : 0)} %`;

/** The frames from the first to the last key of some animations; undefined if there are none. */
export function clipFrames(clips: Clip[], rate: number): Range | undefined {
  if (clips.length === 0) {
    return undefined;
  }
  const first = Math.max(0, Math.ceil(Math.min(...clips.map((c) => c.start)) * rate - 1e-3));
  const last = Math.floor(Math.max(...clips.map((c) => c.end)) * rate + 1e-3);
  return { first, last: Math.max(first, last) };
}

/** The animations that play by a shot's settings, by name; undefined for all. */
export const clipsOf = (settings: Pick<Settings, 'clips'>) => settings.clips ?? undefined;

export function clipsText([first, ...more]: string[]): string {
  if (first === undefined) {
    return 'none, nothing moves';
  }
  return more.length > 0 ? `${first} and ${more.length} more` : first;
}

export type Range = { first: number; last: number };

export const span = ({ first, last }: Range) => (first === last ? `${first}` : `${first}-${last}`);

/** The names of passes if there are few, else how many. */
export function passesText(passes: string[]): string {
  const more = passes.filter((p) => p !== 'beauty');
  if (more.length === 0) {
    return 'beauty alone';
  }
  if (more.length < 3) {
    return passes.join(', ');
  }
  return more.length < passes.length
    ? `beauty and ${more.length} more`
    : `${more.length} without beauty`;
}

/** Returns the exposure that settings ask for; nothing if they ask for none. */
export function exposureText({ lens }: Pick<Settings, 'lens'>): string | undefined {
  const stops = lens.exposure;
  if (typeof stops !== 'number') {
    return 'keyed';
  }
  return stops === 0 ? undefined : `${stops} ${Math.abs(stops) === 1 ? 'stop' : 'stops'}`;
}

/** A clamp of bounced light; its luminance is 1 where the picture is white. */
export const clampText = (luminance: number) => (luminance === 0 ? 'none' : `${luminance} × white`);

/** Every first, second, third: `every 2nd`. */
export function everyText(n: number): string {
  const teen = n % 100 > 10 && n % 100 < 14;
  const end = teen ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th');
  return n === 1 ? 'every frame' : `every ${n}${end}`;
}

/** Returns a number of frames in words. */
export function framesText(n: number): string {
  return n === 1 ? '1 frame' : `${n} frames`;
}

/** What a recipe comes to, in a few words. */
export const recipeText = ({ sampling, denoising, irradiance }: Recipe) =>
  [
    `${sampling.most} samples${sampling.adaptive ? ' at most' : ''}`,
    denoising.picture && 'denoised',
    irradiance.use && 'baked light',
  ]
    .filter(Boolean)
    .join(', ');

/** What a delivery writes, in a few words. */
export const deliveryText = ({ formats, perPass }: Delivery) =>
  formats.map((f) => (f === 'exr' && perPass ? 'exr for each pass' : f)).join(' and ');
