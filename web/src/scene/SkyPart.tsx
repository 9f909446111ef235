import type { Rig } from '../api/client';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { frameOf } from '../space/pose';
import { useWork } from './work';

type Sky = NonNullable<Rig['sky']>;
type Day = NonNullable<Sky['day']>;

const DARK = { direction: [0, 1, 0], color: [0, 0, 0], sharpness: 1 };
const EMPTY: Sky = {
  zenith: null,
  horizon: null,
  ground: null,
  glow: DARK,
  haze: 0,
  picture: null,
  day: null,
  ambient: [0, 0, 0],
};
const PLAIN: Sky = { ...EMPTY, horizon: [0.5, 0.5, 0.5] };

/** A summer noon in the Alps. */
const DAY: Day = {
  model: 'physical',
  latitude: 46.5,
  longitude: 9.8,
  date: '2026-06-21',
  time: 12,
  zone: 2,
  turbidity: 3,
  strength: 1,
  sun: 1,
  north: 0,
  ground: [0.2, 0.2, 0.2],
};

/** What of a day is one number. */
const NUMBERS = [
  { key: 'latitude', label: 'Latitude', unit: '° north' },
  { key: 'longitude', label: 'Longitude', unit: '° east' },
  { key: 'zone', label: 'Clock', unit: 'h ahead of UTC' },
  { key: 'turbidity', label: 'Haze', unit: '2 clear … 10' },
  { key: 'strength', label: 'Strength', unit: '×' },
  { key: 'sun', label: 'Sun alone', unit: '×' },
  { key: 'north', label: 'North', unit: '° clockwise' },
] as const;

type Keys = [number, number][];

const clock = (hours: number) => {
  const minutes = Math.round(hours * 60);
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
};

/** Reads 14:30 or 14.5; times after midnight go on from 24. */
const hoursOf = (text: string) => {
  const m = /^(\d+):(\d\d)$/.exec(text.trim());
  return m ? Number(m[1]) + Number(m[2]) / 60 : Number(text.replace(',', '.'));
};

const keysOf = (time: Day['time']): Keys =>
  Array.isArray(time) ? time.map(([t, v]) => [Number(t), hoursAs(v!)]) : [];
const hoursAs = (v: number | string) => (typeof v === 'number' ? v : hoursOf(v));

function timeAt(time: Day['time'], seconds: number): number {
  if (!Array.isArray(time)) {
    return hoursAs(time);
  }
  const keys = keysOf(time);
  const k = keys.findLastIndex(([t]) => t <= seconds + 1e-6);
  if (k < 0 || k === keys.length - 1) {
    return keys[Math.max(0, k)]![1];
  }
  const [t0, v0] = keys[k]!;
  const [t1, v1] = keys[k + 1]!;
  return v0 + ((v1 - v0) * (seconds - t0)) / (t1 - t0);
}

const first = (v: Day['latitude']) => (Array.isArray(v) ? v[0]![1]! : v);

/** What surrounds the scene. */
export function SkyPart() {
  const w = useWork();
  const frame = usePlayhead();
  const seconds = frame / w.rate;
  const { sky } = w.rig;
  const kind = !sky ? 'file' : sky.day ? 'day' : 'plain';
  const put = async (next: Sky | null): Promise<string | undefined> =>
    (await w.change((rig) => ({ ...rig, sky: next }))) ? undefined : 'was not taken';
  const day = sky?.day;
  const putDay = (part: Partial<Day>) => put({ ...EMPTY, ...sky, day: { ...day!, ...part } });
  const keys = day ? keysOf(day.time) : [];
  const setTime = (hours: number, keyed: boolean) => {
    if (!keyed) {
      return putDay({ time: hours });
    }
    const rest = keys.filter(([t]) => Math.abs(t - seconds) > 1e-4);
    const all: Keys = [...rest, [seconds, hours]];
    return putDay({ time: all.sort((a, b) => a[0] - b[0]) });
  };
  return (
    <>
      <h2 className="mt-4 mb-1 font-[640]">Sky</h2>
      <Row name="Sky">
        <Choice
          label="Sky"
          value={kind}
          options={[
            { value: 'file', label: 'as in the file' },
            { value: 'plain', label: 'plain', hint: 'one colour all around' },
            { value: 'day', label: 'by place and time', hint: 'sun and sky' },
          ]}
          onChange={(k) =>
            void put(k === 'file' ? null : k === 'plain' ? PLAIN : { ...EMPTY, day: DAY })
          }
        />
      </Row>
      {kind === 'plain' && (
        <Row name="Brightness" hint="of 1 for white">
          <Field
            owner="sky"
            label="Brightness of the sky"
            value={String(sky?.horizon?.[0] ?? 0.5)}
            part={(v) => Number(v.replace(',', '.'))}
            put={(v) => put({ ...PLAIN, horizon: [v, v, v] })}
            className="fig w-14"
          />
        </Row>
      )}
      {day && (
        <>
          <Row name="Date">
            <Field
              owner="sky"
              label="Date of the sky"
              value={Array.isArray(day.date) ? String(day.date[0]![1]) : day.date}
              part={(date) => ({ date })}
              put={putDay}
              className="fig w-24"
            />
          </Row>
          <Row
            name="Time"
            hint={keys.length ? `at frame ${frame}` : 'of the clock'}
            note={
              keys.length > 0 &&
              keys.map(([t, h]) => `${clock(h)} at frame ${frameOf(t, w.rate)}`).join(', ')
            }
          >
            <span className="flex items-baseline gap-2">
              <Field
                owner="sky"
                label="Time of day"
                value={clock(timeAt(day.time, seconds))}
                part={(v) => hoursOf(v)}
                put={(h) => setTime(h, keys.length > 0)}
                className="fig w-14"
              />
              <button
                className="min-h-6 text-t2 hover:text-t1"
                onClick={() => void setTime(timeAt(day.time, seconds), true)}
              >
                Key here
              </button>
              {keys.length > 0 && (
                <button
                  className="min-h-6 text-t2 hover:text-t1"
                  onClick={() => void putDay({ time: timeAt(day.time, seconds) })}
                >
                  No keys
                </button>
              )}
            </span>
          </Row>
          {NUMBERS.map(({ key, label, unit }) => (
            <Row key={key} name={label} hint={unit}>
              <Field
                owner="sky"
                label={`${label} of the sky`}
                value={String(first(day[key]))}
                part={(v) => Number(v.replace(',', '.'))}
                put={(v) => putDay({ [key]: v })}
                className="fig w-16"
              />
            </Row>
          ))}
        </>
      )}
    </>
  );
}
