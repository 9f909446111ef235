import { useSyncExternalStore } from 'react';

/** A part of what is looked at, with its name. */
export type RibbonSpan = { id: number; name: string; first: number; last: number };

/** What the ribbon shows in place of the production's shots, and beside them. */
export type Ribbon = {
  /** Null to show the shots. */
  spans: RibbonSpan[] | null;
  /** Stretches that play without waiting: the first frame of each, and the one after its last. */
  cached: [number, number][];
  /** Frames that somebody should look at. */
  marks: number[];
  /** Keys that can be moved about; null if there are none. */
  keys: RibbonKeys | null;
};

/** Keys on the ribbon, by their frames, and what is done to them. */
export type RibbonKeys = {
  /** Whose they are. */
  name: string;
  frames: number[];
  chosen: number[];
  onChoose: (frames: number[]) => void;
  /** Moves or copies the chosen keys by so many frames. */
  onMove: (by: number, copy: boolean) => void;
  onRemove: () => void;
};

const NOTHING: Ribbon = { spans: null, cached: [], marks: [], keys: null };

let shown = NOTHING;
const heard = new Set<() => void>();

/** A station's word to the timeline ribbon. */
export const ribbon = {
  now: () => shown,
  put(part: Partial<Ribbon>) {
    shown = { ...shown, ...part };
    heard.forEach((h) => h());
  },
  clear() {
    shown = NOTHING;
    heard.forEach((h) => h());
  },
  listen(h: () => void) {
    heard.add(h);
    return () => void heard.delete(h);
  },
};

export const useRibbon = () => useSyncExternalStore(ribbon.listen, ribbon.now);
