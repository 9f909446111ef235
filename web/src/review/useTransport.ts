import { useCallback, useState } from 'react';
import { useKeys } from '../shell/keys';
import { playhead, usePlayhead } from '../shell/playhead';

export type TransportState = {
  playing: boolean;
  loop: boolean;
  every: boolean;
  fit: boolean;
  /** Exposure in stops. */
  stops: number;
  inPoint?: number;
  outPoint?: number;
};

export const MOST_STOPS = 10;

/** How the sequence is played, with its keys. */
export function useTransport(frames: number[]) {
  const frame = usePlayhead();
  const setFrame = playhead.to;
  const [state, setState] = useState<TransportState>({
    playing: false,
    loop: true,
    every: false,
    fit: true,
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
  const actions: Record<string, () => void> = {
    ' ': play,
    i: () => set({ inPoint: frame, outPoint: later(state.outPoint, frame) }),
    o: () => set({ outPoint: frame, inPoint: earlier(state.inPoint, frame) }),
    Backspace: () => set({ inPoint: undefined, outPoint: undefined }),
    f: () => set({ fit: !state.fit }),
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
