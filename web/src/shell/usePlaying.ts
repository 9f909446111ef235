import { useEffect } from 'react';
import { playhead } from './playhead';

/** Moves the playhead on in real time, around and around. */
export function usePlaying(playing: boolean, first: number, last: number, rate: number) {
  useEffect(() => {
    if (!playing) {
      return;
    }
    const now = playhead.now();
    const from = now >= last || now < first ? first : now;
    const start = performance.now();
    let next = 0;
    const step = (t: number) => {
      const passed = Math.floor(((t - start) / 1000) * rate);
      playhead.to(first + ((from - first + passed) % (last - first + 1)));
      next = requestAnimationFrame(step);
    };
    next = requestAnimationFrame(step);
    return () => cancelAnimationFrame(next);
  }, [playing, first, last, rate]);
}
