import { addPicture, pickFile, type Rig } from '../api/client';
import { again } from '../api/queries';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { useNotices } from '../shell/Notices';
import { Row } from '../shell/Row';
import { TrackRow } from './TrackRow';
import { useWork } from './work';

type Sky = NonNullable<Rig['sky']>;
type Day = NonNullable<Sky['day']>;
type Picture = NonNullable<Sky['picture']>;

const DARK = { direction: [0, 1, 0], color: [0, 0, 0], sharpness: 1 };
/** Nothing around the scene. */
export const NO_SKY: Sky = {
  zenith: null,
  horizon: null,
  ground: null,
  glow: DARK,
  haze: 0,
  picture: null,
  day: null,
  ambient: [0, 0, 0],
};
const PLAIN: Sky = { ...NO_SKY, horizon: [0.5, 0.5, 0.5] };

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

const clock = (hours: number) => {
  const minutes = Math.round(hours * 60);
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
};

/** Reads 14:30 or 14.5; times after midnight go on from 24. */
const hoursOf = (text: string) => {
  const m = /^(\d+):(\d\d)$/.exec(text.trim());
  return m ? Number(m[1]) + Number(m[2]) / 60 : Number(text.replace(',', '.'));
};

const hoursAs = (v: number | string) => (typeof v === 'number' ? v : hoursOf(v));

/** What surrounds the scene. */
export function SkyPart() {
  const w = useWork();
  const { tell } = useNotices();
  const { sky } = w.rig;
  const kind = !sky
    ? 'file'
    : sky.picture
      ? 'picture'
      : sky.day
        ? 'day'
        : sky.horizon
          ? 'plain'
          : 'none';
  const put = async (next: Sky | null): Promise<string | undefined> =>
    (await w.change((rig) => ({ ...rig, sky: next }))) ? undefined : 'was not taken';
  const { day, picture } = sky ?? {};
  const putDay = (part: Partial<Day>) => put({ ...NO_SKY, ...sky, day: { ...day!, ...part } });
  const putPicture = (part: Partial<Picture>) =>
    put({ ...NO_SKY, picture: { ...picture!, ...part } });
  const pick = () =>
    pickFile('.exr,.hdr', (file) => {
      void addPicture(w.revision.id, file)
        .then(async (added) => {
          await again('revisions');
          await put({
            ...NO_SKY,
            picture: { rotation: 0, strength: 1, ...picture, file: added.file },
          });
        })
        .catch((e: unknown) => tell((e as Error).message, { bad: true }));
    });
  const choose = (k: string) => {
    if (k === 'picture') {
      pick();
    } else {
      const next = { file: null, none: NO_SKY, plain: PLAIN, day: { ...NO_SKY, day: DAY } }[k];
      void put(next ?? null);
    }
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
            { value: 'none', label: 'none', hint: 'black' },
            { value: 'picture', label: 'a picture', hint: '.exr or .hdr, all around' },
          ]}
          onChange={choose}
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
      {picture && (
        <>
          <Row name="Picture">
            <span className="flex items-baseline justify-between gap-2">
              <span className="truncate" title={picture.file}>
                {picture.file.replace(/^added\/[0-9a-f]{12}-/, '')}
              </span>
              <button className="min-h-6 text-t2 hover:text-t1" onClick={pick}>
                Another
              </button>
            </span>
          </Row>
          <TrackRow
            name="Rotation"
            label="Rotation of the sky, degrees"
            hint="°"
            owner="sky"
            track={picture.rotation}
            onPut={(rotation) => putPicture({ rotation: rotation as Picture['rotation'] })}
          />
          <TrackRow
            name="Strength"
            label="Strength of the sky"
            hint="×"
            owner="sky"
            track={picture.strength}
            onPut={(strength) => putPicture({ strength: strength as Picture['strength'] })}
          />
        </>
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
          <TrackRow
            name="Time"
            label="Time of day"
            hint="of the clock"
            owner="sky"
            track={day.time}
            onPut={(time) => putDay({ time: time as Day['time'] })}
            text={clock}
            read={hoursOf}
            of={hoursAs}
          />
          {NUMBERS.map(({ key, label, unit }) => (
            <TrackRow
              key={key}
              name={label}
              label={`${label} of the sky`}
              hint={unit}
              owner="sky"
              track={day[key]}
              onPut={(v) => putDay({ [key]: v })}
            />
          ))}
        </>
      )}
    </>
  );
}
