import type { Corrections, Input, Stack, Usual } from '../api/client';

/** A number, or its keys: pairs of seconds and number. */
export type Num = number | number[][];

/** The number at a time in seconds: straight lines between keys. */
export function numberAt(n: Num, t: number): number {
  if (typeof n === 'number') {
    return n;
  }
  const after = n.findIndex(([at]) => at! > t + EPSILON);
  if (after === 0) {
    return n[0]![1]!;
  }
  if (after < 0) {
    return n.at(-1)![1]!;
  }
  const [t0, v0] = n[after - 1]! as [number, number];
  const [t1, v1] = n[after]! as [number, number];
  return v0 + ((v1 - v0) * (t - t0)) / (t1 - t0);
}

/** Times closer than this are the same, seconds. */
const EPSILON = 1e-4;

const near = (a: number, b: number) => Math.abs(a - b) < EPSILON;

export const hasKeyAt = (n: Num, t: number) =>
  typeof n !== 'number' && n.some((k) => near(k[0]!, t));

export const keyCount = (n: Num) => (typeof n === 'number' ? 0 : n.length);

/** Another value at a time: where there are keys, of a key there. */
export function withValue(n: Num, t: number, value: number): Num {
  if (typeof n === 'number') {
    return value;
  }
  return [...n.filter((k) => !near(k[0]!, t)), [t, value]].sort((a, b) => a[0]! - b[0]!);
}

/** Sets a key at a time, or takes the one that is there away. */
export function toggledKey(n: Num, t: number): Num {
  const value = numberAt(n, t);
  if (typeof n === 'number') {
    return [[t, n]];
  }
  if (!hasKeyAt(n, t)) {
    return withValue(n, t, value);
  }
  const rest = n.filter((k) => !near(k[0]!, t));
  return rest.length ? rest : value;
}

/** Frames at which any number of an input has a key. */
export function keyFrames(input: Input | undefined, rate: number): number[] {
  const frames = new Set<number>();
  const look = (v: unknown) => {
    if (Array.isArray(v) && v.length > 0 && v.every((k) => Array.isArray(k) && k.length === 2)) {
      (v as number[][]).forEach((k) => frames.add(Math.round(k[0]! * rate)));
    } else if (Array.isArray(v)) {
      v.forEach(look);
    } else if (v && typeof v === 'object') {
      Object.values(v).forEach(look);
    }
  };
  if (input) {
    look(input.strength);
    look(input.corrections);
    look({ from: input.mask.from, to: input.mask.to, soft: input.mask.soft });
  }
  return [...frames].sort((a, b) => a - b);
}

type Tree = Record<string, unknown>;

/** What stands at a path such as `gain.red`. */
export const at = (o: unknown, path: string): unknown =>
  path.split('.').reduce<unknown>((v, key) => (v as Tree)[key], o);

/** The same with something else at a path. */
export function withAt<T>(o: T, path: string, value: unknown): T {
  const [key, ...rest] = path.split('.') as [string, ...string[]];
  const part = rest.length ? withAt((o as Tree)[key], rest.join('.'), value) : value;
  if (Array.isArray(o)) {
    return o.map((v: unknown, i) => (String(i) === key ? part : v)) as T;
  }
  return { ...o, [key]: part };
}

/** Puts changes of parts of an input. */
export const changedInput = (s: Stack, id: string, part: Partial<Input>): Stack => ({
  ...s,
  inputs: s.inputs.map((i) => (i.id === id ? { ...i, ...part } : i)),
});

/** An id that no input has. */
export function freeId(s: Stack): string {
  const numbers = s.inputs.map((i) => Number(i.id)).filter(Number.isFinite);
  return String(Math.max(0, ...numbers) + 1);
}

/** Puts inputs on top of those that are there, under ids of their own. */
export function withInputs(s: Stack, inputs: Input[]): Stack {
  let all = s;
  for (const i of inputs.toReversed()) {
    all = { ...all, inputs: [{ ...i, id: freeId(all) }, ...all.inputs] };
  }
  return all;
}

/** The same inputs with one put at another place. */
export function movedInput(s: Stack, id: string, to: number): Stack {
  const one = s.inputs.find((i) => i.id === id)!;
  const rest = s.inputs.filter((i) => i.id !== id);
  return { ...s, inputs: [...rest.slice(0, to), one, ...rest.slice(to)] };
}

/** A correction that can be added. */
export type Correction = {
  /** The part of the corrections that it is. */
  part: keyof Corrections;
  name: string;
  numbers: NumberRow[];
  /** What it becomes when it is added; numbers at first places of `numbers` otherwise. */
  first?: (usual: Usual) => Corrections[keyof Corrections];
};

export type NumberRow = {
  path: string;
  name: string;
  least: number;
  most: number;
  step: number;
  unit?: string;
  /** What it becomes when the correction is added. */
  first?: number;
};

const row = (
  path: string,
  name: string,
  least: number,
  most: number,
  step: number,
  unit = '',
  first?: number,
): NumberRow => ({ path, name, least, most, step, unit, first });

/** All corrections, in the order in which they are applied. */
export const CORRECTIONS: Correction[] = [
  {
    part: 'exposure',
    name: 'Exposure',
    numbers: [row('exposure', 'Exposure', -6, 6, 0.05, 'stops', 0.5)],
  },
  {
    part: 'gain',
    name: 'Gain',
    numbers: [
      row('gain.red', 'Red', 0, 4, 0.01, '×', 1.1),
      row('gain.green', 'Green', 0, 4, 0.01, '×'),
      row('gain.blue', 'Blue', 0, 4, 0.01, '×'),
    ],
  },
  {
    part: 'offset',
    name: 'Offset',
    numbers: [
      row('offset.red', 'Red', -0.5, 0.5, 0.001, '', 0.01),
      row('offset.green', 'Green', -0.5, 0.5, 0.001),
      row('offset.blue', 'Blue', -0.5, 0.5, 0.001),
    ],
  },
  { part: 'gamma', name: 'Gamma', numbers: [row('gamma', 'Gamma', 0.2, 4, 0.01, '', 1.2)] },
  {
    part: 'levels',
    name: 'Levels',
    numbers: [
      row('levels.black', 'Black', -0.5, 1, 0.005, '', 0.05),
      row('levels.white', 'White', 0.01, 4, 0.01),
    ],
  },
  {
    part: 'saturation',
    name: 'Saturation',
    numbers: [row('saturation', 'Saturation', 0, 2, 0.01, '', 0.8)],
  },
  {
    part: 'tint',
    name: 'Tint',
    numbers: [
      row('tint.amount', 'Amount', 0, 1, 0.01, '', 0.3),
      row('tint.colour.red', 'Red', 0, 4, 0.01),
      row('tint.colour.green', 'Green', 0, 4, 0.01),
      row('tint.colour.blue', 'Blue', 0, 4, 0.01),
    ],
  },
  {
    part: 'denoise',
    name: 'Denoise',
    numbers: [row('denoise', 'Noise taken out', 0, 1, 0.05, '', 1)],
  },
  { part: 'blur', name: 'Blur', numbers: [row('blur', 'Radius', 0, 60, 0.1, 'px', 4)] },
  {
    part: 'glow',
    name: 'Glow',
    numbers: [row('glow.threshold', 'From light of', 0, 10, 0.05, '', 1)],
    first: (u) => ({
      threshold: 1,
      alone: false,
      rings: [
        { ...u.ring, radius: 6 },
        { ...u.ring, radius: 24, strength: 0.25 },
      ],
    }),
  },
  {
    part: 'defocus',
    name: 'Defocus',
    numbers: [
      row('defocus.fStop', 'f-stop', 0.5, 22, 0.1, 'f/'),
      row('defocus.focus', 'Focus at', 0.2, 200, 0.1, 'm'),
      row('defocus.focalLength', 'Focal length', 10, 300, 1, 'mm'),
      row('defocus.filmWidth', 'Film back', 5, 70, 0.1, 'mm'),
    ],
    first: (u) => u.defocus,
  },
  {
    part: 'motionBlur',
    name: 'Motion blur',
    numbers: [row('motionBlur', 'Shutter', 0, 1, 0.01, 'of a frame', 0.5)],
  },
  {
    part: 'wrap',
    name: 'Light wrap',
    numbers: [
      row('wrap.strength', 'Strength', 0, 2, 0.01, '', 0.5),
      row('wrap.radius', 'Radius', 0, 100, 0.5, 'px'),
    ],
  },
  {
    part: 'vignette',
    name: 'Vignette',
    numbers: [row('vignette', 'Corners darker', 0, 1, 0.01, '', 0.3)],
  },
  { part: 'flip', name: 'Flip', numbers: [], first: () => ({ across: true, down: false }) },
  {
    part: 'crop',
    name: 'Crop',
    numbers: [
      row('crop.left', 'Left', 0, 1, 0.005, 'of the width', 0.1),
      row('crop.top', 'Top', 0, 1, 0.005, 'of the height'),
      row('crop.right', 'Right', 0, 1, 0.005, 'of the width'),
      row('crop.bottom', 'Bottom', 0, 1, 0.005, 'of the height'),
    ],
  },
  {
    part: 'move',
    name: 'Move and scale',
    numbers: [
      row('move.x', 'Right', -1000, 1000, 1, 'px', 20),
      row('move.y', 'Down', -1000, 1000, 1, 'px'),
      row('move.scale', 'Scale', 0.05, 4, 0.01, '×'),
    ],
  },
  { part: 'time', name: 'Time', numbers: [], first: () => ({ shift: 0, repeat: 'hold' }) },
];

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** Corrections that change something. */
export const correcting = (c: Corrections, usual: Usual): Correction[] =>
  CORRECTIONS.filter((k) => !same(c[k.part], usual.input.corrections[k.part]));

/** The corrections with one more. */
export function withCorrection(c: Corrections, k: Correction, usual: Usual): Corrections {
  const begun = k.first ? { ...c, [k.part]: k.first(usual) } : c;
  return k.first
    ? begun
    : k.numbers.reduce(
        (all, n) => (n.first === undefined ? all : withAt(all, n.path, n.first)),
        begun,
      );
}

/** A number as it stands in a row. */
export const text = (v: number, step: number) =>
  v.toFixed(Math.max(0, Math.min(3, -Math.floor(Math.log10(step) + 1e-9))));

/** What is done to an input, in a few words. */
export function summary(i: Input, usual: Usual | undefined, operator: string): string {
  const some = usual ? correcting(i.corrections, usual) : [];
  const names = some.map((k) => {
    const first = k.numbers[0];
    const alone = k.numbers.length === 1 && !k.first;
    const v = first && alone ? at(i.corrections, first.path) : undefined;
    return typeof v === 'number'
      ? `${k.name.toLowerCase()} ${text(v, first!.step)}`
      : k.name.toLowerCase();
  });
  const mask = i.mask.kind === 'none' ? [] : ['masked'];
  return [operator, ...mask, ...names].join(' · ');
}
