import { useEffect, useRef, useSyncExternalStore } from 'react';
import { useLocation, useNavigate } from 'react-router';

/** After so long without a move the frame stands in the address. */
const SETTLED_MS = 250;

let frame = 1;
const heard = new Set<() => void>();

/** The frame that is looked at: apart from everything else, since it changes as it plays. */
export const playhead = {
  now: () => frame,
  to(f: number) {
    if (f !== frame) {
      frame = f;
      heard.forEach((h) => h());
    }
  },
  listen(h: () => void) {
    heard.add(h);
    return () => void heard.delete(h);
  },
};

export const usePlayhead = () => useSyncExternalStore(playhead.listen, playhead.now);

function frameIn(search: string): number | undefined {
  const f = new URLSearchParams(search).get('frame');
  return f !== null && /^\d{1,7}$/.test(f) ? Number(f) : undefined;
}

/** Keeps the frame and the address together, whichever of them changes. */
export function usePlayheadInAddress() {
  const { pathname, search } = useLocation();
  const navigate = useNavigate();
  // What was written here is no request: the playhead may have moved on by the time it arrives.
  const written = useRef<string>(undefined);
  useEffect(() => {
    const asked = frameIn(search);
    const own = search === written.current;
    written.current = undefined;
    if (asked !== undefined && !own) {
      playhead.to(asked);
    }
  }, [search]);
  const write = useRef<() => void>(undefined);
  useEffect(() => {
    write.current = () => {
      if (frameIn(search) !== frame) {
        const query = new URLSearchParams(search);
        query.set('frame', String(frame));
        written.current = `?${query}`;
        void navigate(`${pathname}?${query}`, { replace: true });
      }
    };
  });
  useEffect(() => {
    let wait: ReturnType<typeof setTimeout>;
    // One may have gone elsewhere by the time it is written: it is written there.
    const stop = playhead.listen(() => {
      clearTimeout(wait);
      wait = setTimeout(() => write.current?.(), SETTLED_MS);
    });
    return () => {
      clearTimeout(wait);
      stop();
    };
  }, []);
}
