import type { RigLight } from '../api/client';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { Panel } from '../shell/Panel';
import { playhead, usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { frameOf, keyAt, keyOf, withKey } from '../space/pose';
import { poseOf } from '../space/SpaceView';
import { placeOf } from '../space/World';
import { Bound, fixTo } from './Bound';
import { ColourField } from './ObjectPart';
import { parentAt, useWork, worldOf } from './work';

export const KINDS: { value: RigLight['kind']; label: string; hint: string }[] = [
  { value: 'sun', label: 'sun', hint: 'from far away' },
  { value: 'point', label: 'point', hint: 'all around' },
  { value: 'spot', label: 'spot', hint: 'a cone' },
  { value: 'panel', label: 'panel', hint: 'a rectangle' },
  { value: 'disc', label: 'disc', hint: 'a round panel' },
];

export const UNIT: Record<RigLight['kind'], string> = {
  sun: 'lx',
  point: 'cd',
  spot: 'cd',
  panel: 'cd/m²',
  disc: 'cd/m²',
};

/** How strong a light of a kind is at first. */
export const USUAL: Record<RigLight['kind'], Pick<RigLight, 'strength' | 'size'>> = {
  sun: { strength: 3, size: 0.5 },
  point: { strength: 50, size: 0.1 },
  spot: { strength: 100, size: 0.1 },
  panel: { strength: 5, size: 2 },
  disc: { strength: 5, size: 1 },
};

const number = (text: string) => Number(text.replace(',', '.'));
const short = (v: number) => String(Number(v.toPrecision(4)));

/** A light of the rig. */
export function LightDetails({ light }: { light: RigLight }) {
  const w = useWork();
  const frame = usePlayhead();
  const time = frame / w.rate;
  const change = (to: RigLight | undefined) =>
    w.change((rig) => ({
      ...rig,
      lights: rig.lights.flatMap((l) => (l.name !== light.name ? [l] : to ? [to] : [])),
    }));
  const put = async (part: Partial<RigLight>): Promise<string | undefined> =>
    (await change({ ...light, ...part })) ? undefined : 'was not taken';
  const rename = async (name: string) => {
    const refused = await put({ name });
    if (refused === undefined) {
      w.choose(name);
    }
    return refused;
  };
  const owner = `light ${light.name}`;
  const surface = light.kind === 'panel' || light.kind === 'disc';
  const here = keyAt(light.keys, time);
  const fromView = () => {
    const v = w.view();
    if (!v) {
      return;
    }
    const parent = parentAt(w, light.name, frame);
    const key = keyOf(v.pose(), time, parent, here?.value ?? null, 'linear');
    void put({
      keys:
        light.keys.length === 1
          ? [{ ...key, time: light.keys[0]!.time }]
          : withKey(light.keys, key),
    });
  };
  const strengthKey = () => {
    // Where it is by now: a key of its strength does not move it.
    const node = w.node(light.name);
    const place = node !== undefined && w.space && placeOf(w.space, w.poses, node, frame);
    const parent = parentAt(w, light.name, frame);
    const world = place ? poseOf(place) : worldOf(light.keys[0]!, parent);
    const key = keyOf(world, time, parent, here?.value ?? light.strength, 'linear');
    void put({
      keys: withKey(
        light.keys.map((k) => ({ ...k, value: k.value ?? light.strength })),
        key,
      ),
    });
  };
  const keyed = light.keys.some((k) => k.value !== null);
  return (
    <Panel
      label="Light of the rig"
      actions={
        <>
          <Button main onClick={fromView}>
            Shine from the view
          </Button>
          <Button onClick={strengthKey}>Key strength at {frame}</Button>
        </>
      }
    >
      <div className="mb-1.5 flex items-baseline justify-between gap-3">
        <Field
          owner={owner}
          label="Name of the light"
          value={light.name}
          part={(n) => n}
          put={rename}
          className="min-w-0 flex-1 font-[640]"
        />
        <button className="min-h-6 text-t2 hover:text-t1" onClick={() => w.choose(undefined)}>
          All of the rig
        </button>
      </div>
      <Row name="Kind">
        <span className="flex items-center justify-between">
          <Choice
            label="Kind of light"
            value={light.kind}
            options={KINDS}
            onChange={(kind) => void put({ kind, ...USUAL[kind] })}
          />
          <label className="flex items-center text-t2">
            <input
              type="checkbox"
              className="m-1.25 size-3.5 shrink-0 self-center"
              checked={light.on}
              onChange={(e) => void put({ on: e.target.checked })}
            />
            on
          </label>
        </span>
      </Row>
      <Row name="Strength" hint={UNIT[light.kind]}>
        <Field
          owner={owner}
          label={`Strength, ${UNIT[light.kind]}`}
          value={short(here?.value ?? light.strength)}
          part={(v) =>
            here && keyed
              ? {
                  keys: light.keys.map((k) => (k === here ? { ...k, value: number(v) } : k)),
                }
              : { strength: number(v) }
          }
          put={put}
          className="fig w-20"
        />
      </Row>
      <Row name="Colour" hint={light.temperature === null ? undefined : 'times white'}>
        <span className="flex items-center gap-2">
          <ColourField
            label="Colour of the light"
            value={light.color}
            onChange={(color) => void put({ color })}
          />
          <input
            type="checkbox"
            className="m-1.25 size-3.5 shrink-0 self-center"
            aria-label="Colour by temperature"
            checked={light.temperature !== null}
            onChange={(e) => void put({ temperature: e.target.checked ? 4000 : null })}
          />
          {light.temperature === null ? (
            <span className="text-t2">no temperature</span>
          ) : (
            <>
              <Field
                owner={owner}
                label="Temperature, kelvin"
                value={String(light.temperature)}
                part={(v) => ({ temperature: number(v) })}
                put={put}
                className="fig w-14"
              />
              <span className="text-t2">K</span>
            </>
          )}
        </span>
      </Row>
      <Row
        name="Size"
        hint={
          light.kind === 'sun' ? 'diameter' : light.kind === 'panel' ? 'width × height' : 'radius'
        }
      >
        <span className="flex items-baseline gap-1.5">
          <Field
            owner={owner}
            label="Size"
            value={short(light.size)}
            part={(v) => ({ size: number(v) })}
            put={put}
            className="fig w-14"
          />
          {light.kind === 'panel' && (
            <>
              <span className="text-t2">×</span>
              <Field
                owner={owner}
                label="Height of the panel, metres"
                value={short(light.depth)}
                part={(v) => ({ depth: number(v) })}
                put={put}
                className="fig w-14"
              />
            </>
          )}
          <span className="text-t2">{light.kind === 'sun' ? '°' : 'm'}</span>
        </span>
      </Row>
      {light.kind === 'spot' && (
        <Row name="Cone" hint="full angle, soft edge">
          <span className="flex items-baseline gap-1.5">
            <Field
              owner={owner}
              label="Cone, degrees"
              value={short(light.cone)}
              part={(v) => ({ cone: number(v) })}
              put={put}
              className="fig w-12"
            />
            <span className="text-t2">°</span>
            <Field
              owner={owner}
              label="Soft edge, per cent"
              value={short(light.soft * 100)}
              part={(v) => ({ soft: number(v) / 100 })}
              put={put}
              className="fig w-12"
            />
            <span className="text-t2">%</span>
          </span>
        </Row>
      )}
      <Row name="Camera" hint={surface || light.size > 0 ? undefined : 'has no size'}>
        <Choice
          label="What the camera makes of it"
          value={light.seen ? 'seen' : 'unseen'}
          options={[
            { value: 'seen', label: 'sees it' },
            { value: 'unseen', label: 'does not see it', hint: 'but its light' },
          ]}
          onChange={(v) => void put({ seen: v === 'seen' })}
        />
      </Row>
      <Row name="Group" hint="of light, for passes">
        <Field
          owner={owner}
          label="Light group"
          value={light.group || 'none'}
          part={(v) => ({ group: v === 'none' ? '' : v })}
          put={put}
          className="w-full"
        />
      </Row>
      <Bound
        name="Fixed to"
        value={light.fixedTo}
        object={w.picked === light.name ? undefined : w.picked}
        verb="Fix to"
        onPut={(o) =>
          void fixTo(w, light, o, frame, (rig, fixed) => ({
            ...rig,
            lights: rig.lights.map((l) => (l.name === light.name ? { ...light, ...fixed } : l)),
          }))
        }
      />
      <Row name="Place" hint={light.fixedTo ? `on ${light.fixedTo}` : 'x, y, z in m'}>
        <span className="fig">
          {(here ?? light.keys[0]!).position.map((p) => p.toFixed(2)).join(', ')}
        </span>
      </Row>
      {light.keys.length > 1 && (
        <ul className="mt-2" aria-label="Keys of the light">
          {light.keys.map((k) => {
            const at = frameOf(k.time, w.rate);
            return (
              <li
                key={k.time}
                className="flex min-h-7 items-center justify-between border-b border-line"
              >
                <button className="fig min-h-6 hover:text-t1" onClick={() => playhead.to(at)}>
                  frame {at}
                </button>
                <span className="fig text-t2">
                  {short(k.value ?? light.strength)} {UNIT[light.kind]}
                </span>
                <button
                  aria-label={`Remove the key at frame ${at}`}
                  className="min-h-6 min-w-6 text-t3 hover:text-t1"
                  onClick={() => void put({ keys: light.keys.filter((o) => o !== k) })}
                >
                  ×
                </button>
              </li>
            );
          })}
        </ul>
      )}
      <button
        className="mt-4 min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
        onClick={() => void change(undefined).then((done) => done && w.choose(undefined))}
      >
        Remove this light
      </button>
    </Panel>
  );
}
