import { useCallback, useEffect, useRef, useState } from 'react';
import { ladder, listen, type Part, type Rung } from '../api/client';

const VIEWER = `ladder-${Math.random().toString(36).slice(2)}`;

/** What a ladder was climbed for. */
type Climbed = { shot: number; layer: number; frame: number; part: Part };

/** Climbs a ladder: rungs come as they are reached, until the last one or a stop. */
export function useLadder() {
  const [rungs, setRungs] = useState<Rung[]>([]);
  const [running, setRunning] = useState<'all' | 'adaptive'>();
  const [failed, setFailed] = useState<string>();
  const leave = useRef<() => void>(undefined);
  const stop = useCallback(() => {
    leave.current?.();
    setRunning(undefined);
  }, []);
  useEffect(() => stop, [stop]);
  const climb = useCallback(
    ({ shot, layer, frame, part }: Climbed, which: 'all' | 'adaptive' = 'all') => {
      stop();
      setRungs((all) => (which === 'all' ? [] : all.filter((r) => !r.adaptive)));
      setFailed(undefined);
      setRunning(which);
      const url = ladder(shot, VIEWER, frame, layer, part, which === 'adaptive');
      leave.current = listen<{ rung: Rung }>(url, {
        rung: (r) => setRungs((all) => [...all, r]),
        failed: setFailed,
        ended: () => setRunning(undefined),
      });
    },
    [stop],
  );
  return { rungs, running, failed, climb, stop };
}
