import { useCallback, useState } from 'react';
import type { Repeat } from '../picture/playback';
import { useKeys } from '../shell/keys';
import { playhead, usePlayhead } from '../shell/playhead';

export type TransportState = {
  playing: boolean;
  repeat: Repeat;
  every: boolean;
  /** Times the size of the picture's pixels; 0 to fit it in. */
  zoom: number;
  /** Exposure in stops. */
  stops: number;
  inPoint?: number;
  outPoint?: number;
};

export const MOST_STOPS = 10;
export const ZOOMS = [0, 1, 2, 4, 8, 16];
export const REPEATS: Repeat[] = ['once', 'loop', 'bounce'];

/** How the sequence is played, with its keys. */
export function useTransport(frames: number[]) {
  const frame = usePlayhead();
  const setFrame = playhead.to;
  const [state, setState] = useState<TransportState>({
    playing: false,
    repeat: 'loop',
    every: false,
    zoom: 0,
    stops: 0,
  });
  const set = useCallback(
    (part: Partial<TransportState>) => setState((s) => ({ ...s, ...part })),
    [],
  );
  const expose = (d: number) =>
    set({ stops: Math.max(-MOST_STOPS, Math.min(MOST_STOPS, state.stops + d)) });
  const play = () => {
    const last = state.outPoint ?? frames.at(-1)!;
    if (!state.playing && frame >= last) {
      setFrame(state.inPoint ?? frames[0]!);
    }
    set({ playing: !state.playing });
  };
  const step = (direction: 1 | -1) => {
    set({ playing: false });
    const next = direction > 0 ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
    if (next !== undefined) {
      setFrame(next);
    }
  };
  const closer = (way: 1 | -1) => {
    const at = ZOOMS.indexOf(state.zoom) + way;
    set({ zoom: ZOOMS[Math.max(0, Math.min(ZOOMS.length - 1, at))]! });
  };
  const actions: Record<string, () => void> = {
    ' ': play,
    i: () => set({ inPoint: frame, outPoint: later(state.outPoint, frame) }),
    o: () => set({ outPoint: frame, inPoint: earlier(state.inPoint, frame) }),
    Backspace: () => set({ inPoint: undefined, outPoint: undefined }),
    f: () => set({ zoom: state.zoom ? 0 : 1 }),
    z: () => closer(1),
    Z: () => closer(-1),
    '-': () => expose(-0.5),
    '+': () => expose(0.5),
    '=': () => expose(0.5),
  };
  useKeys((e) => {
    const action = actions[e.key];
    action?.();
    return !!action;
  });
  return { state, set, play, step, expose };
}

const later = (out: number | undefined, frame: number) =>
  out !== undefined && out < frame ? undefined : out;
const earlier = (point: number | undefined, frame: number) =>
  point !== undefined && point > frame ? undefined : point;

export type TransportHandle = ReturnType<typeof useTransport>;
