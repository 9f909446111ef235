import type { Shot } from '../api/client';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { Row } from '../shell/Row';
import { withLens, withSettings, type Put } from './settings';

type Lens = Shot['settings']['lens'];
type Shutter = Shot['settings']['shutter'];

/** A number, or what it is at several seconds. */
type Track = Lens['fStop'];

/** As it is typed: one number, or pairs of seconds and number. */
export const trackText = (t: Track | null, none: string) =>
  t === null ? none : Array.isArray(t) ? t.map(([s, v]) => `${s}:${v}`).join(' ') : String(t);

/** What was typed; what is no number is left for the server to refuse. */
export function trackOf(text: string): Track {
  const parts = text.trim().split(/\s+/);
  return parts.some((p) => p.includes(':'))
    ? parts.map((p) => p.split(':').map(Number))
    : Number(text);
}

const KEYED = 'or keyed: seconds:value, as 0:35 2.5:85';

const onOff = [
  { value: 'off', label: 'off' },
  { value: 'on', label: 'on' },
];

/** Lens and shutter of a shot; what is switched off keeps its values. */
export function LensRows({
  shot,
  put,
  focusing,
  onFocusing,
}: {
  shot: Shot;
  put: Put;
  /** True while a press into the picture says what is sharp. */
  focusing: boolean;
  onFocusing: (on: boolean) => void;
}) {
  const { lens, shutter } = shot.settings;
  const say = (part: Partial<Lens>, about: string) => void put(withLens(shot, part), about);
  const open = (part: Partial<Shutter>) => withSettings(shot, { shutter: { ...shutter, ...part } });
  const field = (
    name: string,
    label: string,
    hint: string,
    value: string,
    part: (v: string) => Partial<Shot>,
    note?: string,
  ) => (
    <Row name={name} hint={hint} note={note}>
      <Field
        owner={`shot ${shot.id}`}
        label={label}
        value={value}
        part={part}
        put={put}
        className="fig w-full"
      />
    </Row>
  );
  return (
    <>
      {field(
        'Focal',
        'Focal length',
        'mm',
        trackText(lens.focalLength, 'of the camera'),
        (v) => withLens(shot, { focalLength: v.trim() === 'of the camera' ? null : trackOf(v) }),
        lens.focalLength === null ? undefined : KEYED,
      )}
      {field('Film back', 'Film back', 'mm', `${lens.filmWidth} × ${lens.filmHeight}`, (v) => {
        const [filmWidth, filmHeight] = v.split(/[×x\s]+/).map(Number);
        return withLens(shot, { filmWidth, filmHeight });
      })}
      <Row name="Depth" hint="of field">
        <Choice
          label="Depth of field"
          value={lens.depthOfField ? 'on' : 'off'}
          options={onOff}
          onChange={(v) => say({ depthOfField: v === 'on' }, 'depth of field')}
        />
      </Row>
      {lens.depthOfField && (
        <>
          {field('Opening', 'f-stop', 'f-stop', trackText(lens.fStop, ''), (v) =>
            withLens(shot, { fStop: trackOf(v) }),
          )}
          {field(
            'Focus',
            'Focus distance in metres, or the name of an object',
            'm or object',
            lens.focusObject ?? trackText(lens.focusDistance, 'the middle'),
            (v) => {
              const t = v.trim();
              if (t === 'the middle') {
                return withLens(shot, { focusDistance: null, focusObject: null });
              }
              return /^[\d.\s:-]+$/.test(t)
                ? withLens(shot, { focusDistance: trackOf(t), focusObject: null })
                : withLens(shot, { focusObject: t, focusDistance: null });
            },
            lens.focusObject === null && lens.focusDistance === null
              ? 'what is in the middle of the picture is sharp'
              : undefined,
          )}
          <Row name="">
            <button
              aria-pressed={focusing}
              className="min-h-6 text-t1 underline underline-offset-3"
              onClick={() => onFocusing(!focusing)}
            >
              {focusing ? 'press what is to be sharp, or Escape' : 'focus by pressing the picture'}
            </button>
          </Row>
          {field(
            'Blades',
            'Blades of the aperture, 0 for round',
            '0 is round',
            String(lens.blades),
            (v) => withLens(shot, { blades: Number(v) }),
          )}
        </>
      )}
      <Row name="Blur" hint="of motion">
        <Choice
          label="Motion blur"
          value={shutter.motionBlur ? 'on' : 'off'}
          options={onOff}
          onChange={(v) => void put(open({ motionBlur: v === 'on' }), 'motion blur')}
        />
      </Row>
      {shutter.motionBlur && (
        <>
          {field('Shutter', 'Shutter angle', '° of 360 a frame', String(shutter.angle), (v) =>
            open({ angle: Number(v) }),
          )}
          {field('Opens at', 'Shutter start', '° from the frame', String(shutter.start), (v) =>
            open({ start: Number(v) }),
          )}
        </>
      )}
    </>
  );
}
