import type { LayerDocument, Part } from '../api/client';

export type Region = NonNullable<LayerDocument['layer']['region']>;
export type Key = Region['drawn'][number];

/** Keys nearer than this are the same, seconds. */
const SAME = 1e-4;

/** A region that is drawn on the picture, in place of what there was. */
export const drawnRegion = (drawn: Key[], before: Region | null): Region => ({
  fixed: null,
  follow: [],
  drawn,
  pad: before?.pad ?? 8,
  snap: before?.snap ?? 16,
  constantSize: before?.constantSize ?? false,
});

/** Where a drawn region is at a moment: straight lines lie between its keys. */
export function drawnAt(keys: Key[], seconds: number): Part {
  const before = keys.findLast((k) => k.seconds <= seconds) ?? keys[0]!;
  const after = keys.find((k) => k.seconds >= seconds) ?? keys.at(-1)!;
  const span = after.seconds - before.seconds;
  const f = span > 0 ? (seconds - before.seconds) / span : 0;
  const mix = (key: keyof Part) => before[key] + f * (after[key] - before[key]);
  return { x: mix('x'), y: mix('y'), width: mix('width'), height: mix('height') };
}

/** Keys with another one, or with another rectangle where there is one at that moment. */
export const withKey = (keys: Key[], seconds: number, part: Part): Key[] =>
  [...keys.filter((k) => Math.abs(k.seconds - seconds) > SAME), { seconds, ...part }].sort(
    (a, b) => a.seconds - b.seconds,
  );

/** What drawing a rectangle at a moment makes of keys: a single one only moves. */
export const draw = (keys: Key[], seconds: number, part: Part): Key[] =>
  keys.length < 2 ? [{ seconds: keys[0]?.seconds ?? 0, ...part }] : withKey(keys, seconds, part);

/** Whether there is a key at a moment. */
export const hasKey = (keys: Key[], seconds: number) =>
  keys.some((k) => Math.abs(k.seconds - seconds) <= SAME);

export const withoutKey = (keys: Key[], seconds: number): Key[] =>
  keys.filter((k) => Math.abs(k.seconds - seconds) > SAME);
