import type { Figure, StrandEstimate } from '../api/client';
import { clockIn, duration } from './format';

/** Figures that are independent of each other as one: bands add as squares. */
export function sumOf(all: Figure[]): Figure {
  const value = all.reduce((s, f) => s + f.value, 0);
  const down = Math.hypot(...all.map((f) => f.value - f.low));
  const up = Math.hypot(...all.map((f) => f.high - f.value));
  return { value, low: Math.max(0, value - down), high: value + up };
}

/** Whether something is known of what a strand takes. */
export const isKnown = (e: StrandEstimate) => e.frames === 0 || e.trials + e.finished > 0;

/** What an estimate was made from. */
export const estimateFrom = (e: StrandEstimate) =>
  [e.trials > 0 && `${e.trials} trial frames`, e.finished > 0 && `${e.finished} finished frames`]
    .filter(Boolean)
    .join(' and ');

/** A duration that is not known to the second. */
export const roughly = (seconds: number) =>
  duration(seconds < 120 ? seconds : Math.round(seconds / 60) * 60);

/** What frames take with its band, such as `12 min ± 2 min`. */
export const takesText = ({ value, low, high }: Figure) =>
  `${roughly(value)} ± ${roughly((high - low) / 2)}`;

/** When that is over, such as `ready 18:08 ± 14 min`. */
export const readyIn = ({ value, low, high }: Figure) =>
  `ready ${clockIn(value)} ± ${roughly((high - low) / 2)}`;
