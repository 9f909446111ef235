import type { PlayerReport } from '../picture/Player';
import type { Track } from '../picture/playback';
import { Choice } from '../shell/Choice';
import { rateText } from '../shell/format';
import { usePlayhead } from '../shell/playhead';
import { REPEATS, type TransportHandle } from './useTransport';

const NAMES = { once: 'Once', loop: 'Loop', bounce: 'Bounce' };

/** Play, step, repeat, in and out. */
export function Transport({
  transport,
  track,
  report,
}: {
  transport: TransportHandle;
  track: Track;
  report: PlayerReport;
}) {
  const { state, set, play, step } = transport;
  const frame = usePlayhead();
  return (
    <div className="flex h-12 shrink-0 items-center gap-5 text-t2">
      <div className="flex items-center gap-2 text-t1">
        <Icon
          label="One frame back"
          onClick={() => step(-1)}
          path="M12.5 5v8L6 9zM4.5 5h1.5v8H4.5z"
        />
        <button
          className="grid h-8.5 w-8.5 place-items-center rounded-full border-[1.5px] border-t1"
          aria-label={state.playing ? 'Pause' : 'Play'}
          onClick={play}
        >
          <svg width="18" height="18" aria-hidden="true">
            <path
              d={state.playing ? 'M5 4h3v10H5zM10 4h3v10h-3z' : 'M6 3.5v11l8.5-5.5z'}
              fill="currentColor"
            />
          </svg>
        </button>
        <Icon
          label="One frame on"
          onClick={() => step(1)}
          path="M5.500 5v8L12 9zM12 5h1.500v8H12z"
        />
      </div>
      <span className="fig w-30 text-t1" data-testid="rate">
        {report.rate === null
          ? rateText(track.rate)
          : `${report.rate.toFixed(1)} of ${rateText(track.rate)}`}
      </span>
      <span className="w-24 whitespace-nowrap" data-testid="dropped">
        {report.dropped === 0 ? 'none dropped' : `${report.dropped} dropped`}
      </span>
      <Choice
        label="At the end"
        value={state.repeat}
        options={REPEATS.map((r) => ({ value: r, label: NAMES[r] }))}
        onChange={(repeat) => set({ repeat })}
      />
      <Toggle on={state.every} onClick={() => set({ every: !state.every })} label="Every frame" />
      <span className="flex-1" />
      <span className="fig flex items-center gap-1.5">
        <button
          className="min-h-6 px-1 hover:text-t1"
          onClick={() => set({ inPoint: frame })}
          title="Set the in point here (I)"
        >
          in {track.in}
        </button>
        <button
          className="min-h-6 px-1 hover:text-t1"
          onClick={() => set({ outPoint: frame })}
          title="Set the out point here (O)"
        >
          out {track.out}
        </button>
        {(state.inPoint ?? state.outPoint) !== undefined && (
          <button
            className="min-h-6 px-1 hover:text-t1"
            aria-label="Clear in and out"
            onClick={() => set({ inPoint: undefined, outPoint: undefined })}
          >
            ✕
          </button>
        )}
      </span>
    </div>
  );
}

function Icon({ label, onClick, path }: { label: string; onClick: () => void; path: string }) {
  return (
    <button
      aria-label={label}
      title={label}
      onClick={onClick}
      className="grid min-h-6 min-w-6 place-items-center text-t2 hover:text-t1"
    >
      <svg width="18" height="18" aria-hidden="true">
        <path d={path} fill="currentColor" />
      </svg>
    </button>
  );
}

export function Toggle({
  on,
  onClick,
  label,
}: {
  on: boolean;
  onClick: () => void;
  label: string;
}) {
  return (
    <button
      role="switch"
      aria-checked={on}
      onClick={onClick}
      className={`min-h-6 whitespace-nowrap ${
        on ? 'text-t1 underline decoration-mark decoration-2 underline-offset-4' : 'hover:text-t1'
      }`}
    >
      {label}
    </button>
  );
}
