import type { Channel, RunStrand } from '../api/client';
import { useRunDocument } from '../api/queries';
import { version } from '../shell/format';

const CHANNELS: Channel[] = ['colour', 'red', 'green', 'blue', 'alpha', 'depth'];

/** Which channel of the picture is shown. */
export function Channels({
  run,
  channel,
  onChange,
}: {
  run: RunStrand;
  channel: Channel;
  onChange: (c: Channel) => void;
}) {
  const s = useRunDocument(run.id)?.settings;
  const depth = s?.delivery.formats.includes('exr') && s.passes.wanted.includes('depth');
  const has = (c: Channel) => c !== 'depth' || depth;
  return (
    <div className="flex h-10 shrink-0 items-center gap-5">
      <span className="font-semibold">{run.shot}</span>
      <span className="fig text-t2">{version(run.number)}</span>
      <span className="flex-1" />
      <span role="radiogroup" aria-label="Channel" className="flex gap-5">
        {CHANNELS.map((c) => (
          <button
            key={c}
            role="radio"
            aria-checked={c === channel}
            disabled={!has(c)}
            title={has(c) ? undefined : 'This run has no depth pass'}
            className={
              c === channel
                ? 'underline decoration-mark decoration-2 underline-offset-4'
                : has(c)
                  ? 'text-t2 hover:text-t1'
                  : 'text-t3 line-through'
            }
            onClick={() => onChange(c)}
          >
            {c[0]!.toUpperCase() + c.slice(1)}
          </button>
        ))}
      </span>
    </div>
  );
}
