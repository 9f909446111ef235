import { Field } from '../shell/Field';
import { usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { frameOf } from '../space/pose';
import { useWork } from './work';

/** A number, or numbers at seconds with straight lines between. */
type Track = number | (number | string)[][];

type Keys = [number, number][];

const number = (text: string) => Number(text.replace(',', '.'));

/** The keys of a track; none if it is one number. */
const keysOf = (
  track: number | string | (number | string)[][],
  of: (v: number | string) => number,
): Keys => (Array.isArray(track) ? track.map(([t, v]) => [Number(t), of(v!)]) : []);

/** A track's value at a time. */
function valueAt(keys: Keys, seconds: number): number {
  const k = keys.findLastIndex(([t]) => t <= seconds + 1e-6);
  if (k < 0 || k === keys.length - 1) {
    return keys[Math.max(0, k)]![1];
  }
  const [t0, v0] = keys[k]!;
  const [t1, v1] = keys[k + 1]!;
  return v0 + ((v1 - v0) * (seconds - t0)) / (t1 - t0);
}

/** A track with a value at a time: the one there is, or one more. */
function withValue(keys: Keys, seconds: number, value: number): Keys {
  const rest = keys.filter(([t]) => Math.abs(t - seconds) > 1e-4);
  return ([...rest, [seconds, value]] as Keys).sort((a, b) => a[0] - b[0]);
}

/** A number over time: its value at the playhead, and its keys. */
export function TrackRow({
  name,
  label,
  hint,
  owner,
  track,
  onPut,
  text = (v) => String(Number(v.toPrecision(6))),
  read = number,
  of = Number,
}: {
  name: string;
  label: string;
  hint?: string;
  owner: string;
  track: Track | string;
  onPut: (track: Track) => Promise<string | undefined>;
  /** How a value is written and read. */
  text?: (v: number) => string;
  read?: (typed: string) => number;
  /** What a written value stands for. */
  of?: (v: number | string) => number;
}) {
  const w = useWork();
  const frame = usePlayhead();
  const seconds = frame / w.rate;
  const keys = keysOf(track, of);
  const now = Array.isArray(track) ? valueAt(keys, seconds) : of(track);
  return (
    <Row
      name={name}
      hint={keys.length ? `at frame ${frame}` : hint}
      note={
        keys.length > 0 &&
        keys.map(([t, v]) => `${text(v)} at frame ${frameOf(t, w.rate)}`).join(', ')
      }
    >
      <span className="flex items-baseline gap-2">
        <Field
          owner={owner}
          label={label}
          value={text(now)}
          part={read}
          put={(v) => onPut(keys.length ? withValue(keys, seconds, v) : v)}
          className="fig w-14"
        />
        <button
          aria-label={`Key ${label} here`}
          className="min-h-6 text-t2 hover:text-t1"
          onClick={() => void onPut(withValue(keys, seconds, now))}
        >
          Key here
        </button>
        {keys.length > 0 && (
          <button
            aria-label={`No keys of ${label}`}
            className="min-h-6 text-t2 hover:text-t1"
            onClick={() => void onPut(now)}
          >
            No keys
          </button>
        )}
      </span>
    </Row>
  );
}
