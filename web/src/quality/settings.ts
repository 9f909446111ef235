import type { Recipe } from '../api/client';
import { duration } from '../shell/format';

type Value = string | number | boolean;

/** One setting of a recipe. */
export type Setting = {
  group: string;
  name: string;
  /** What the value means, in a few words. */
  hint: string;
  /** What it does, and what it costs. */
  does: string;
  /** Where it stands in a recipe. */
  of: keyof Recipe;
  key: string;
  /** The values there are, if they are few; else it is a number. */
  options?: { value: Value; label: string; hint?: string }[];
  /** False where another setting makes it count for nothing. */
  counts?: (r: Recipe) => boolean;
};

const ON = [
  { value: false, label: 'off' },
  { value: true, label: 'on' },
];

const adaptive = (r: Recipe) => r.sampling.adaptive;
const denoised = (r: Recipe) => r.denoising.picture;
const baked = (r: Recipe) => r.irradiance.use;

const SAMPLES = 'Samples';
const DENOISE = 'Denoise';
const RAYS = 'Rays at the first surface';
const BOUNCES = 'Bounces';
const FILTER = 'Filter';
const BAKED = 'Baked light';

/** All settings that belong to quality, in groups. */
export const SETTINGS: Setting[] = [
  {
    group: SAMPLES,
    name: 'Samples',
    hint: 'per pixel',
    does: 'Time grows with them; noise falls with their root: four times as many, half the noise.',
    of: 'sampling',
    key: 'most',
  },
  {
    group: SAMPLES,
    name: 'Adaptive',
    hint: 'clean pixels rest',
    does: 'Pixels that are clean enough get no more samples, so that the others can have more.',
    of: 'sampling',
    key: 'adaptive',
    options: ON,
  },
  {
    group: SAMPLES,
    name: 'Least',
    hint: 'samples of each',
    does: 'Below 16, rare light is missed and pixels rest too soon.',
    of: 'sampling',
    key: 'least',
    counts: adaptive,
  },
  {
    group: SAMPLES,
    name: 'Clean',
    hint: 'noise, 0.03 is 3 %',
    does: 'The noise at which a pixel rests. Half of it takes four times as long.',
    of: 'sampling',
    key: 'noiseThreshold',
    counts: adaptive,
  },
  {
    group: SAMPLES,
    name: 'Time limit',
    hint: 'seconds a frame',
    does: 'No more samples are begun after it; the noise is what is reached by then. 0 for none.',
    of: 'sampling',
    key: 'seconds',
  },
  {
    group: SAMPLES,
    name: 'Pattern',
    hint: '',
    does: 'Spread samples leave less noise at the same time; random ones are there to compare.',
    of: 'sampling',
    key: 'pattern',
    options: [
      { value: 'spread', label: 'spread', hint: 'less noise' },
      { value: 'random', label: 'random', hint: 'to compare' },
    ],
  },
  {
    group: SAMPLES,
    name: 'Grain',
    hint: '',
    does: 'What noise is left stands still, or moves like grain of film. It costs nothing.',
    of: 'sampling',
    key: 'seedPerFrame',
    options: [
      { value: false, label: 'the same in all frames' },
      { value: true, label: 'another in each frame' },
    ],
  },
  {
    group: SAMPLES,
    name: 'Seed',
    hint: 'of the pattern',
    does: 'Another number is other noise of the same strength.',
    of: 'sampling',
    key: 'seed',
  },
  {
    group: DENOISE,
    name: 'Denoise',
    hint: '',
    does: 'Takes noise out of the picture; about a second for a picture of 1280 × 720.',
    of: 'denoising',
    key: 'picture',
    options: ON,
  },
  {
    group: DENOISE,
    name: 'Amount',
    hint: '0 to 1, 1 is all',
    does: 'How much of the noise is taken out. Less keeps some grain, and fine detail.',
    of: 'denoising',
    key: 'amount',
    counts: denoised,
  },
  {
    group: RAYS,
    name: 'Diffuse',
    hint: '× rays a sample',
    does: 'More rays where light is scattered evenly: for noise in shadows and on matt walls.',
    of: 'multipliers',
    key: 'diffuse',
  },
  {
    group: RAYS,
    name: 'Specular',
    hint: '× rays a sample',
    does: 'More mirrored rays: for noise in rough metal and varnish.',
    of: 'multipliers',
    key: 'specular',
  },
  {
    group: RAYS,
    name: 'Transm.',
    hint: '× rays a sample',
    does: 'More rays through surfaces: for noise in frosted glass.',
    of: 'multipliers',
    key: 'transmission',
  },
  {
    group: RAYS,
    name: 'Lights',
    hint: '× rays to lights',
    does: 'More rays to lights: for noise in soft shadows and among many lamps.',
    of: 'multipliers',
    key: 'lights',
  },
  {
    group: BOUNCES,
    name: 'Diffuse',
    hint: '1 is direct light alone',
    does: 'How often light is scattered evenly. Fewer are darker in rooms, and a little faster.',
    of: 'bounces',
    key: 'diffuse',
  },
  {
    group: BOUNCES,
    name: 'Specular',
    hint: 'mirrors in mirrors',
    does: 'How often light is mirrored. Fewer show black where mirrors face each other.',
    of: 'bounces',
    key: 'specular',
  },
  {
    group: BOUNCES,
    name: 'Transm.',
    hint: 'surfaces of glass',
    does: 'How many surfaces light passes. A pane has two; too few show black in glass.',
    of: 'bounces',
    key: 'transmission',
  },
  {
    group: BOUNCES,
    name: 'Alpha',
    hint: 'cut-outs in a row',
    does: 'How many cut-outs, such as leaves, a ray passes. Too few show dark edges in trees.',
    of: 'bounces',
    key: 'transparency',
  },
  {
    group: BOUNCES,
    name: 'Clamp',
    hint: 'luminance; 0 for none',
    does: 'Takes fireflies, and some light with them: see the share of light lost in Variants.',
    of: 'bounces',
    key: 'indirectClamp',
  },
  {
    group: BOUNCES,
    name: 'Roughness',
    hint: 'least, after a bounce',
    does: 'Blurs what mirrors throw on walls, which takes fireflies. 0 keeps it sharp.',
    of: 'bounces',
    key: 'roughnessFloor',
  },
  {
    group: FILTER,
    name: 'Shape',
    hint: '',
    does: 'How samples around a pixel count. It costs nothing.',
    of: 'filter',
    key: 'shape',
    options: [
      { value: 'gaussian', label: 'bell' },
      { value: 'tent', label: 'tent' },
      { value: 'box', label: 'box', hint: 'sharpest' },
    ],
  },
  {
    group: FILTER,
    name: 'Radius',
    hint: 'px, 0.5 to 4',
    does: 'Wider is softer and calmer in motion; narrower is sharper and may flicker.',
    of: 'filter',
    key: 'radius',
  },
  {
    group: BAKED,
    name: 'Bake',
    hint: '',
    does: 'Light between surfaces is found once for all frames. Only the camera may move.',
    of: 'irradiance',
    key: 'use',
    options: ON,
  },
  {
    group: BAKED,
    name: 'Every',
    hint: 'Nth frame is looked at',
    does: 'Fewer frames bake faster; what none of them sees is rendered without baked light.',
    of: 'irradiance',
    key: 'every',
    counts: baked,
  },
  {
    group: BAKED,
    name: 'Accuracy',
    hint: '0.02 fine to 1',
    does: 'How close its points lie. Half of it is about four times as many.',
    of: 'irradiance',
    key: 'accuracy',
    counts: baked,
  },
  {
    group: BAKED,
    name: 'Tolerance',
    hint: 'error of a point',
    does: 'How exact each point is. Half of it takes up to four times as long.',
    of: 'irradiance',
    key: 'tolerance',
    counts: baked,
  },
  {
    group: BAKED,
    name: 'Paths',
    hint: 'most of a point',
    does: 'After so many a point is taken as it is.',
    of: 'irradiance',
    key: 'paths',
    counts: baked,
  },
  {
    group: BAKED,
    name: 'Direct',
    hint: 'in it too',
    does: 'Also light straight from lights: for soft shadows alone, since edges are not kept.',
    of: 'irradiance',
    key: 'direct',
    options: ON,
    counts: baked,
  },
];

/** Settings by group, in order. */
export const GROUPS: [string, Setting[]][] = [...new Set(SETTINGS.map((s) => s.group))].map((g) => [
  g,
  SETTINGS.filter((s) => s.group === g),
]);

/** What a recipe says of a setting. */
export const valueOf = (r: Recipe, s: Setting) =>
  (r[s.of] as unknown as Record<string, Value>)[s.key]!;

/** What to change in a recipe for another value. */
export const partOf = (r: Recipe, s: Setting, value: Value): Partial<Recipe> =>
  ({ [s.of]: { ...r[s.of], [s.key]: value } }) as Partial<Recipe>;

/** A value as it is read. */
export function valueText(s: Setting, value: Value): string {
  if (s.of === 'sampling' && s.key === 'seconds') {
    return value === 0 ? 'none' : duration(value as number);
  }
  return s.options?.find((o) => o.value === value)?.label ?? String(value);
}

/** What tells a setting from all others. */
export const settingId = (s: Setting) => `${s.of}.${s.key}`;

/** How a setting is called by itself: `Bounces: diffuse`. */
export const settingName = (s: Setting) =>
  s.group === s.name || s.group === SAMPLES ? s.name : `${s.group}: ${s.name.toLowerCase()}`;

/** Settings whose values two recipes do not share. */
export const differing = (a: Recipe, b: Recipe) =>
  SETTINGS.filter((s) => valueOf(a, s) !== valueOf(b, s));
