import { useCallback, useEffect, useRef, useState } from 'react';
import { ladder, type Part, type Rung } from '../api/client';

const VIEWER = `ladder-${Math.random().toString(36).slice(2)}`;

/** What a ladder was climbed for. */
export type Climbed = { shot: number; layer: number; frame: number; part: Part };

/** Climbs a ladder: rungs come as they are reached, until the last one or a stop. */
export function useLadder() {
  const [rungs, setRungs] = useState<Rung[]>([]);
  const [running, setRunning] = useState(false);
  const [failed, setFailed] = useState<string>();
  const source = useRef<EventSource>(undefined);
  const stop = useCallback(() => {
    source.current?.close();
    source.current = undefined;
    setRunning(false);
  }, []);
  useEffect(() => stop, [stop]);
  const climb = useCallback(
    ({ shot, layer, frame, part }: Climbed) => {
      stop();
      setRungs([]);
      setFailed(undefined);
      setRunning(true);
      const s = new EventSource(ladder(shot, VIEWER, frame, layer, part));
      source.current = s;
      s.addEventListener('rung', (e) =>
        setRungs((all) => [...all, JSON.parse((e as MessageEvent<string>).data) as Rung]),
      );
      s.addEventListener('failed', (e) => setFailed((e as MessageEvent<string>).data));
      // The stream ends with the last rung; the browser must not ask for it again.
      s.onerror = () => {
        if (source.current === s) {
          stop();
        }
      };
    },
    [stop],
  );
  return { rungs, running, failed, climb, stop };
}
