import { useState, type ReactNode } from 'react';
import type { RigCamera } from '../api/client';
import { useAddShot, useChangeShot, useRevisions, useShots } from '../api/queries';
import { useSpeed, withCamera } from '../api/rigs';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { playhead, usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { frameOf, keyAt, keyOf, withKey } from '../space/pose';
import { poseOf } from '../space/SpaceView';
import { placeOf, viewOf } from '../space/World';
import { Bound, fixTo } from './Bound';
import { EASES } from './eases';
import { StopsDialog } from './StopsDialog';
import { parentAt, useWork, worldOf, type Work } from './work';

const number = (text: string) => Number(text.replace(',', '.'));
const short = (v: number, digits = 3) => String(Number(v.toPrecision(digits)));

/** The last frame of the keys of a camera. */
const lastFrame = (c: RigCamera, rate: number) =>
  frameOf(Math.max(...c.keys.map((k) => k.time)), rate);

/** Sets a key of a camera where the view is. */
export function setKeyHere(w: Work, camera: RigCamera, frame: number) {
  const v = w.view();
  if (!v) {
    return Promise.resolve(false);
  }
  const time = frame / w.rate;
  const there = keyAt(camera.keys, time);
  const key = keyOf(
    v.pose(),
    time,
    parentAt(w, camera.name, frame),
    there?.value ?? null,
    there?.ease ?? camera.keys[camera.keys.length - 1]!.ease,
  );
  return w.change((rig) =>
    withCamera(rig, camera.name, { ...camera, keys: withKey(camera.keys, key) }),
  );
}

/** A camera of the rig: its lens, its keys and its moves. */
export function CameraDetails({ camera }: { camera: RigCamera }) {
  const w = useWork();
  const frame = usePlayhead();
  const tell = useTell();
  const shots = useShots().data ?? [];
  const addShot = useAddShot();
  const changeShot = useChangeShot();
  const go = useGo();
  const [stops, setStops] = useState(false);
  const put = async (part: Partial<RigCamera>): Promise<string | undefined> =>
    (await w.change((rig) => withCamera(rig, camera.name, { ...camera, ...part })))
      ? undefined
      : 'was not taken';
  const owner = `camera ${camera.name}`;
  const revisions = useRevisions().data ?? [];
  const scene = (id: number) => revisions.find((r) => r.id === id)?.scene;
  // Another scene may have a camera of the same name.
  const used = shots.filter(
    (s) => s.camera === camera.name && scene(s.revisionId) === w.revision.scene,
  );
  const object = objectChosen(w, camera.name);
  const time = frame / w.rate;
  const here = keyAt(camera.keys, time);
  const keyed = camera.keys.some((k) => k.value !== null);
  const line = w.space?.cameras.findIndex((c) => c.name === camera.name && c.rig) ?? -1;
  const seen = w.space && w.poses && line >= 0 ? viewOf(w.space, w.poses, line, frame) : undefined;
  const view =
    keyed && seen !== undefined
      ? camera.orthographic
        ? 2 * seen
        : (seen * 180) / Math.PI
      : camera.view;
  /** Keys what is seen, where the camera is by now. */
  const keyView = () => {
    const node = line >= 0 ? w.space!.cameras[line]!.node : undefined;
    const place = node !== undefined && placeOf(w.space!, w.poses, node, frame);
    const parent = parentAt(w, camera.name, frame);
    const world = place ? poseOf(place) : worldOf(camera.keys[0]!, parent);
    const keys = camera.keys.map((k) => ({ ...k, value: k.value ?? camera.view }));
    const value = Number(view.toPrecision(6));
    return put({
      keys: here
        ? keys.map((k) => (k.time === here.time ? { ...k, value } : k))
        : withKey(keys, keyOf(world, time, parent, value, keys[keys.length - 1]!.ease)),
    });
  };
  const makeShot = async () => {
    try {
      const s =
        used[0] ?? (await addShot.mutateAsync({ revisionId: w.revision.id, camera: camera.name }));
      go({ station: 'shots', shot: s.name });
    } catch (e) {
      tell((e as Error).message, { bad: true });
    }
  };
  const rename = async (name: string) => {
    const refused = await put({ name });
    if (refused === undefined) {
      // Shots that use it go on using it.
      await Promise.all(
        used.map((s) => changeShot.mutateAsync({ id: s.id, part: { camera: name } })),
      );
      w.choose(name);
    }
    return refused;
  };
  return (
    <Panel
      label="Camera of the rig"
      actions={
        <>
          <Button main onClick={() => void setKeyHere(w, camera, frame)}>
            Set key at {frame}
          </Button>
          <Button onClick={() => void makeShot()}>
            {used.length ? 'Go to shot' : 'Make a shot'}
          </Button>
        </>
      }
    >
      <div className="mb-1.5 flex items-baseline justify-between gap-3">
        <Field
          owner={owner}
          label="Name of the camera"
          value={camera.name}
          part={(n) => n}
          put={rename}
          className="min-w-0 flex-1 font-[640]"
        />
        <button className="min-h-6 text-t2 hover:text-t1" onClick={() => w.choose(undefined)}>
          All of the rig
        </button>
      </div>
      <Row
        name="View"
        hint={camera.orthographic ? 'height' : 'vertical'}
        note={
          <span className="flex items-baseline gap-3">
            {keyed
              ? camera.keys
                  .map(
                    (k) =>
                      `${short(k.value ?? camera.view, 4)} at frame ${frameOf(k.time, w.rate)}`,
                  )
                  .join(', ')
              : 'the same at all frames'}
            <button className="min-h-6 text-t2 hover:text-t1" onClick={() => void keyView()}>
              Key here
            </button>
            {keyed && (
              <button
                className="min-h-6 text-t2 hover:text-t1"
                onClick={() => void put({ keys: camera.keys.map((k) => ({ ...k, value: null })) })}
              >
                No keys
              </button>
            )}
          </span>
        }
      >
        <span className="flex items-baseline gap-1.5">
          <Field
            owner={owner}
            label={camera.orthographic ? 'Height of view, metres' : 'Field of view, degrees'}
            value={short(view, 4)}
            part={(v) =>
              keyed && here
                ? { keys: camera.keys.map((k) => (k === here ? { ...k, value: number(v) } : k)) }
                : { view: number(v) }
            }
            put={put}
            className="fig w-14"
          />
          <span className="text-t2">{camera.orthographic ? 'm' : '°'}</span>
          <Choice
            label="Projection"
            value={camera.orthographic ? 'orthographic' : 'perspective'}
            options={[
              { value: 'perspective', label: 'perspective' },
              { value: 'orthographic', label: 'orthographic' },
            ]}
            onChange={(p) =>
              void put({
                orthographic: p === 'orthographic',
                view: p === 'orthographic' ? 10 : 40,
                keys: camera.keys.map((k) => ({ ...k, value: null })),
              })
            }
          />
        </span>
      </Row>
      <Bound
        name="Fixed to"
        value={camera.fixedTo}
        object={object}
        verb="Fix to"
        onPut={(o) =>
          void fixTo(w, camera, o, frame, (rig, fixed) =>
            withCamera(rig, camera.name, { ...camera, ...fixed }),
          )
        }
      />
      <Bound
        name="Looks at"
        value={camera.lookAt}
        object={object}
        verb="Look at"
        onPut={(o) => void put({ lookAt: o })}
      />
      <Row name="Height" hint={camera.height === null ? 'as keyed' : 'above 0'}>
        <Off
          on={camera.height !== null}
          label="Hold a height"
          onChange={(on) =>
            void put({ height: on ? Number((w.view()?.pose().position.y ?? 1).toFixed(2)) : null })
          }
        >
          <Field
            owner={owner}
            label="Height held, metres"
            value={short(camera.height ?? 0)}
            part={(v) => ({ height: number(v) })}
            put={put}
            className="fig w-14"
          />{' '}
          m
        </Off>
      </Row>
      <Row name="Pivot" hint="between keys">
        <span className="flex items-baseline gap-1.5">
          <Field
            owner={owner}
            label="Pivot ahead, metres"
            value={short(-camera.pivot[2]!)}
            part={(v) => ({ pivot: [camera.pivot[0]!, camera.pivot[1]!, -number(v)] })}
            put={put}
            className="fig w-14"
          />
          <span className="text-t2">m ahead</span>
        </span>
      </Row>
      <Keys camera={camera} put={put} />
      <KeysOutside camera={camera} />
      <h2 className="mt-4 mb-1 font-[640]">Moves</h2>
      <div className="flex flex-wrap gap-2 py-1">
        <Button onClick={() => setStops(true)}>Stops …</Button>
        <Button onClick={() => void put(loop(camera, w))} disabled={camera.keys.length < 2}>
          Close the loop
        </Button>
        <Button onClick={() => void turntable(camera, w).then(put)}>
          {camera.orbit ? 'Take turntable away' : 'Turntable'}
        </Button>
      </div>
      {camera.orbit && <OrbitRows camera={camera} put={put} />}
      <SwayRows camera={camera} put={put} />
      <SpeedRows camera={camera} />
      <div className="mt-4">
        <button
          className="min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
          onClick={() =>
            void w
              .change((rig) => withCamera(rig, camera.name, undefined))
              .then((done) => done && w.choose(undefined))
          }
        >
          Remove this camera
        </button>
        {used.length > 0 && (
          <p className="text-t3">
            {used.length === 1 ? `Shot ${used[0]!.name} uses it.` : `${used.length} shots use it.`}
          </p>
        )}
      </div>
      {stops && <StopsDialog camera={camera} onClose={() => setStops(false)} />}
    </Panel>
  );
}

type Put = (part: Partial<RigCamera>) => Promise<string | undefined>;

/** The object that is chosen in the view, if it is none of the camera's own. */
function objectChosen(w: Work, camera: string): string | undefined {
  return w.picked === camera ? undefined : w.picked;
}

function Off({
  on,
  label,
  onChange,
  children,
}: {
  on: boolean;
  label: string;
  onChange: (on: boolean) => void;
  children: ReactNode;
}) {
  return (
    <span className="-ml-1.25 flex items-center gap-1">
      <input
        type="checkbox"
        aria-label={label}
        className="m-1.25 size-3.5 shrink-0 self-center"
        checked={on}
        onChange={(e) => onChange(e.target.checked)}
      />
      {on ? children : <span className="text-t2">off</span>}
    </span>
  );
}

function Keys({ camera, put }: { camera: RigCamera; put: Put }) {
  const w = useWork();
  const frame = usePlayhead();
  return (
    <>
      <h2 className="mt-4 mb-1 font-[640]">
        Keys <span className="fig text-t2">{camera.keys.length}</span>
      </h2>
      <ul aria-label="Keys of the camera">
        {camera.keys.map((k, i) => {
          const at = frameOf(k.time, w.rate);
          return (
            <li
              key={k.time}
              className={`flex min-h-7 items-center gap-2 border-b border-line ${at === frame ? 'bg-up2' : ''}`}
            >
              <button
                className="fig min-h-6 w-17 text-left hover:text-t1"
                onClick={() => playhead.to(at)}
              >
                frame {at}
              </button>
              {i < camera.keys.length - 1 ? (
                <Choice
                  label={`From frame ${at}`}
                  value={k.ease}
                  options={EASES}
                  onChange={(ease) =>
                    void put({ keys: camera.keys.map((o) => (o === k ? { ...o, ease } : o)) })
                  }
                />
              ) : (
                <span className="text-t2">the last</span>
              )}
              {camera.keys.length > 1 && (
                <button
                  aria-label={`Remove the key at frame ${at}`}
                  className="ml-auto min-h-6 min-w-6 text-t2 hover:text-t1"
                  onClick={() => void put({ keys: camera.keys.filter((o) => o !== k) })}
                >
                  ×
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** Keys that lie where nothing of the scene moves, which is most often a slip. */
function KeysOutside({ camera }: { camera: RigCamera }) {
  const w = useWork();
  const { first, last } = w.revision;
  const outside = camera.keys
    .map((k) => frameOf(k.time, w.rate))
    .filter((f) => last > first && (f < first || f > last));
  return outside.length === 0 ? null : (
    <p role="note" className="mt-1.5 border-l-2 border-t3 pl-2.5 leading-4.5 text-t2">
      {outside.length === 1 ? 'The key at frame ' : 'The keys at frames '}
      <span className="fig">{outside.join(', ')}</span> {outside.length === 1 ? 'lies' : 'lie'}{' '}
      outside the animation, which runs over frames{' '}
      <span className="fig">
        {first}–{last}
      </span>
      . Drag them on the ribbon, or render that far.
    </p>
  );
}

/** A key like the first one frame behind the last: the loop is closed, and no frame comes twice. */
function loop(camera: RigCamera, w: Work): Partial<RigCamera> {
  const first = camera.keys[0]!;
  const time = (lastFrame(camera, w.rate) + Math.max(1, Math.round(w.rate))) / w.rate;
  const keys = camera.keys.map((k) => ({ ...k, ease: 'smooth' as const }));
  return { keys: withKey(keys, { ...first, time, ease: 'smooth' }) };
}

async function turntable(camera: RigCamera, w: Work): Promise<Partial<RigCamera>> {
  if (camera.orbit) {
    return { orbit: null };
  }
  const frames = Math.max(2, w.revision.last - w.revision.first + 1);
  const centre = w.picked
    ? (await w.object(w.picked, w.revision.first)).middle
    : [0, 1, 2].map((k) => ((w.space?.low[k] ?? 0) + (w.space?.high[k] ?? 0)) / 2);
  return {
    orbit: { centre, from: w.revision.first / w.rate, seconds: frames / w.rate, turns: 1 },
  };
}

function OrbitRows({ camera, put }: { camera: RigCamera; put: Put }) {
  const w = useWork();
  const o = camera.orbit!;
  const first = frameOf(o.from, w.rate);
  const frames = Math.round(o.seconds * Math.abs(o.turns) * w.rate);
  const owner = `camera ${camera.name}`;
  return (
    <>
      <Row
        name="Turn"
        note={`Frames ${first}–${first + frames - 1}; frame ${first + frames} would be like frame ${first}, so it is left out.`}
      >
        <span className="flex items-baseline gap-1.5">
          <Field
            owner={owner}
            label="Frames of a turn"
            value={String(Math.round(o.seconds * w.rate))}
            part={(v) => ({ orbit: { ...o, seconds: number(v) / w.rate } })}
            put={put}
            className="fig w-12"
          />
          <span className="text-t2">frames a turn,</span>
          <Field
            owner={owner}
            label="Turns"
            value={short(o.turns)}
            part={(v) => ({ orbit: { ...o, turns: number(v) } })}
            put={put}
            className="fig w-10"
          />
          <span className="text-t2">turns</span>
        </span>
      </Row>
      <Row name="Centre" hint="x, y, z in m">
        <span className="flex gap-1">
          {[0, 1, 2].map((k) => (
            <Field
              key={k}
              owner={owner}
              label={`Centre ${'xyz'[k]}`}
              value={short(o.centre[k]!)}
              part={(v) => ({
                orbit: { ...o, centre: o.centre.map((c, i) => (i === k ? number(v) : c)) },
              })}
              put={put}
              className="fig w-12"
            />
          ))}
        </span>
      </Row>
    </>
  );
}

function SwayRows({ camera, put }: { camera: RigCamera; put: Put }) {
  const w = useWork();
  const s = camera.sway;
  const owner = `camera ${camera.name}`;
  const begin = () => ({
    metres: 0.01,
    degrees: 0.3,
    frequency: 1,
    seed: 1,
    from: w.revision.first / w.rate,
    to: Math.max(w.revision.last, w.revision.first + 1, lastFrame(camera, w.rate)) / w.rate,
    loop: false,
  });
  const field = (
    label: string,
    value: number,
    part: (v: number) => Partial<NonNullable<typeof s>>,
  ) => (
    <Field
      owner={owner}
      label={label}
      value={short(value, 4)}
      part={(v) => ({ sway: { ...s!, ...part(number(v)) } })}
      put={put}
      className="fig w-11"
    />
  );
  return (
    <>
      <Row name="Sway" hint={s ? undefined : 'as in the hand'}>
        <Off on={!!s} label="Sway" onChange={(on) => void put({ sway: on ? begin() : null })}>
          <span className="flex items-baseline gap-1">
            {s && field('Sway, millimetres', s.metres * 1000, (v) => ({ metres: v / 1000 }))}
            <span className="text-t2">mm,</span>
            {s && field('Sway, degrees', s.degrees, (degrees) => ({ degrees }))}
            <span className="text-t2">°</span>
          </span>
        </Off>
      </Row>
      {s && (
        <Row name="" hint={`frames ${frameOf(s.from, w.rate)}–${frameOf(s.to, w.rate)}`}>
          <span className="flex items-baseline gap-1">
            {field('Sway, frequency in Hz', s.frequency, (frequency) => ({ frequency }))}
            <span className="text-t2">Hz, seed</span>
            {field('Sway, seed', s.seed, (v) => ({ seed: Math.round(v) }))}
          </span>
        </Row>
      )}
    </>
  );
}

/** How fast the camera is, with what jerks marked. */
function SpeedRows({ camera }: { camera: RigCamera }) {
  const w = useWork();
  const frame = usePlayhead();
  const first = w.revision.first;
  const last = Math.max(w.revision.last, lastFrame(camera, w.rate), first + 1);
  const speed = useSpeed(w.revision.id, w.version, camera.name, first, last);
  if (!speed || speed.metres.length === 0) {
    return null;
  }
  const most = Math.max(...speed.metres);
  const at = Math.max(0, Math.min(speed.metres.length - 1, frame - first));
  const width = 280;
  const line = speed.metres
    .map((v, i) => {
      const x = (i / Math.max(1, speed.metres.length - 1)) * width;
      const y = 39 - (most > 0 ? (v / most) * 36 : 0);
      return `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join('');
  return (
    <>
      <h2 className="mt-4 mb-1 font-[640]">Speed</h2>
      <svg
        viewBox={`0 0 ${width} 40`}
        className="h-10 w-full"
        role="img"
        aria-label={`Speed of the camera, at most ${short(most)} metres a second`}
        preserveAspectRatio="none"
      >
        <path d={line} fill="none" stroke="var(--t1)" vectorEffect="non-scaling-stroke" />
        {speed.jerks.map((i) => (
          <path
            key={i}
            d={`M${(i / Math.max(1, speed.metres.length - 1)) * width} 0v40`}
            stroke="var(--bad)"
            strokeDasharray="2 2"
            vectorEffect="non-scaling-stroke"
          />
        ))}
        <path
          d={`M${(at / Math.max(1, speed.metres.length - 1)) * width} 0v40`}
          stroke="var(--mark)"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <p className="fig flex justify-between text-t2">
        <span>
          {short(speed.metres[at]!)} m/s, {short(speed.degrees[at]!)} °/s at {frame}
        </span>
        <span>most {short(most)} m/s</span>
      </p>
      {speed.jerks.length > 0 && (
        <p className="mt-1 border-l-2 border-bad pl-2.5">
          Jerks at frame {speed.jerks.map((i) => i + first).join(', ')}. Make the keys there smooth
          or eased, or set them farther apart.
        </p>
      )}
    </>
  );
}
