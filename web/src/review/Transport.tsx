import type { PlayerReport } from '../picture/Player';
import type { Track } from '../picture/playback';
import { rateText } from '../shell/format';
import { usePlayhead } from '../shell/playhead';
import type { TransportHandle } from './useTransport';

/** Play, step, loop, in and out, exposure, fit. */
export function Transport({
  transport,
  track,
  report,
}: {
  transport: TransportHandle;
  track: Track;
  report: PlayerReport;
}) {
  const { state, set, play, step, expose } = transport;
  const frame = usePlayhead();
  return (
    <div className="flex h-13 shrink-0 items-center gap-4 text-t2">
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
      <span className="fig w-27 text-t1" data-testid="rate">
        {report.rate === null
          ? rateText(track.rate)
          : `${report.rate.toFixed(1)} of ${rateText(track.rate)}`}
      </span>
      <span className="w-24 whitespace-nowrap" data-testid="dropped">
        {report.dropped === 0 ? 'none dropped' : `${report.dropped} dropped`}
      </span>
      <Toggle on={state.loop} onClick={() => set({ loop: !state.loop })} label="Loop" />
      <Toggle on={state.every} onClick={() => set({ every: !state.every })} label="Every frame" />
      <span className="fig flex items-center gap-1.5">
        <button
          className="px-1 hover:text-t1"
          onClick={() => set({ inPoint: frame })}
          title="Set the in point here (I)"
        >
          in {track.in}
        </button>
        <button
          className="px-1 hover:text-t1"
          onClick={() => set({ outPoint: frame })}
          title="Set the out point here (O)"
        >
          out {track.out}
        </button>
        {(state.inPoint ?? state.outPoint) !== undefined && (
          <button
            className="px-1 hover:text-t1"
            aria-label="Clear in and out"
            onClick={() => set({ inPoint: undefined, outPoint: undefined })}
          >
            ✕
          </button>
        )}
      </span>
      <span className="flex-1" />
      <span className="flex items-center gap-1.5">
        Exposure
        <button
          className="px-1 hover:text-t1"
          aria-label="Half a stop darker"
          onClick={() => expose(-0.5)}
        >
          −
        </button>
        <button
          className="fig w-9 text-center text-t1"
          title="Back to 0"
          onClick={() => set({ stops: 0 })}
          data-testid="stops"
        >
          {state.stops > 0 ? '+' : ''}
          {state.stops.toFixed(1)}
        </button>
        <button
          className="px-1 hover:text-t1"
          aria-label="Half a stop brighter"
          onClick={() => expose(0.5)}
        >
          +
        </button>
      </span>
      <button
        className="w-7 text-right hover:text-t1"
        onClick={() => set({ fit: !state.fit })}
        title="Fit or 1:1 (F)"
      >
        {state.fit ? 'Fit' : '1:1'}
      </button>
    </div>
  );
}

function Icon({ label, onClick, path }: { label: string; onClick: () => void; path: string }) {
  return (
    <button
      aria-label={label}
      title={label}
      onClick={onClick}
      className="px-0.5 text-t2 hover:text-t1"
    >
      <svg width="18" height="18" aria-hidden="true">
        <path d={path} fill="currentColor" />
      </svg>
    </button>
  );
}

function Toggle({ on, onClick, label }: { on: boolean; onClick: () => void; label: string }) {
  return (
    <button
      role="switch"
      aria-checked={on}
      onClick={onClick}
      className={
        on ? 'text-t1 underline decoration-mark decoration-2 underline-offset-4' : 'hover:text-t1'
      }
    >
      {label}
    </button>
  );
}
