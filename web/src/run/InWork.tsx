import { useEffect, useRef, useState } from 'react';
import { inWorkPicture, type Events, type RunStrand } from '../api/client';
import { duration } from '../shell/format';

/** The frame in work as it refines; what was seen last stays until there is something newer. */
export function InWork({ run, now }: { run: RunStrand; now: Events['progress'] }) {
  const [shown, setShown] = useState<string>();
  const loading = useRef(false);
  useEffect(() => {
    if (loading.current) {
      return;
    }
    loading.current = true;
    const next = new Image();
    const done = (url?: string) => {
      loading.current = false;
      if (url) {
        setShown(url);
      }
    };
    next.onload = () => done(next.src);
    next.onerror = () => done();
    next.src = inWorkPicture(run.id, `${now.frame}-${now.seconds}`);
  }, [run.id, now]);
  return (
    <li className="col-span-2 row-span-2">
      <div
        className="relative w-full overflow-hidden bg-bg"
        style={{ aspectRatio: `${run.width} / ${run.height}` }}
      >
        {shown && <img src={shown} alt={`Frame ${now.frame} in work`} className="h-full w-full" />}
        <i
          className="absolute bottom-0 left-0 h-1 bg-mark"
          style={{ width: `${100 * now.fraction}%` }}
        />
      </div>
      <span className="fig flex justify-between pt-0.5">
        <span>{now.frame}</span>
        <span className="text-t2">
          {Math.round(100 * now.fraction)} % · {duration(now.seconds)}
        </span>
      </span>
    </li>
  );
}
