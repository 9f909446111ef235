import { useEffect, useRef, useState } from 'react';
import { picture } from '../api/client';
import { Turns } from './turns';

const TURNS = new Turns(2);

/**
 * A picture that it takes the server a while to make, asked for once it comes into view; until it
 * is there, and if it fails, it says so.
 */
export function SlowPicture({ url, alt }: { url: string; alt: string }) {
  const place = useRef<HTMLSpanElement>(null);
  const inView = useInView(place);
  const [shown, setShown] = useState<{ url: string; src?: string }>();
  useEffect(() => {
    if (!inView) {
      return;
    }
    const gone = new AbortController();
    let src: string | undefined;
    TURNS.take(gone.signal, () => picture(url, gone.signal))
      .then((blob) => {
        if (!gone.signal.aborted) {
          src = URL.createObjectURL(blob);
          setShown({ url, src });
        }
      })
      .catch(() => {
        if (!gone.signal.aborted) {
          setShown({ url });
        }
      });
    return () => {
      gone.abort();
      if (src) {
        URL.revokeObjectURL(src);
      }
    };
  }, [url, inView]);
  const failed = shown?.url === url && !shown.src;
  return (
    <span ref={place} className="relative block h-full w-full">
      {shown?.src ? (
        <img src={shown.src} alt={alt} className="h-full w-full object-contain" />
      ) : (
        <span className="absolute inset-0 grid place-items-center text-center text-t3">
          {failed ? 'This picture could not be made.' : 'rendering …'}
        </span>
      )}
    </span>
  );
}

/** Returns true from when an element comes into view first. */
function useInView(element: React.RefObject<HTMLElement | null>): boolean {
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const watch = new IntersectionObserver((all) => {
      if (all.some((e) => e.isIntersecting)) {
        setSeen(true);
        watch.disconnect();
      }
    });
    watch.observe(element.current!);
    return () => watch.disconnect();
  }, [element]);
  return seen;
}
