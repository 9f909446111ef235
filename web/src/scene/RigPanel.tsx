import { freeName, newCamera } from '../api/rigs';
import { usePlayhead } from '../shell/playhead';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { Panel } from '../shell/Panel';
import { frameOf, keyOf } from '../space/pose';
import { poseOf } from '../space/SpaceView';
import { placeOf } from '../space/World';
import { CameraDetails } from './CameraDetails';
import { KINDS, LightDetails, UNIT, USUAL } from './LightDetails';
import { ObjectPart } from './ObjectPart';
import { NO_SKY, SkyPart } from './SkyPart';
import { useWork } from './work';
import type { ReactNode } from 'react';
import { answer, api, urlOf, type RigCamera, type RigLight } from '../api/client';

/** What the production adds to the scene: all of it, or the part that is chosen. */
export function RigPanel({ tabs }: { tabs: ReactNode }) {
  const w = useWork();
  const camera = w.rig.cameras.find((c) => c.name === w.chosen);
  if (camera) {
    return <CameraDetails key={camera.name} camera={camera} />;
  }
  const light = w.rig.lights.find((l) => l.name === w.chosen);
  if (light) {
    return <LightDetails key={light.name} light={light} />;
  }
  return (
    <Panel label="Rig" actions={<AddCamera />}>
      {tabs}
      {w.chosen && <ObjectPart key={w.chosen} name={w.chosen} />}
      <h2 className="mb-1 font-[640]">
        Cameras of the rig <span className="fig text-t2">{w.rig.cameras.length}</span>
      </h2>
      {w.rig.cameras.length === 0 && (
        <p className="text-t2">
          None yet. Move the view to where a camera should be, and make one there; the file stays as
          it is.
        </p>
      )}
      {w.rig.cameras.map((c) => {
        const first = frameOf(c.keys[0]!.time, w.rate);
        const last = frameOf(c.keys[c.keys.length - 1]!.time, w.rate);
        return (
          <button
            key={c.name}
            className="flex min-h-7 w-full items-baseline justify-between gap-3 border-b border-line py-1 text-left hover:bg-up"
            onClick={() => w.choose(c.name)}
          >
            <span className="truncate">{c.name}</span>
            <span className="fig shrink-0 text-t2">
              {c.keys.length === 1 ? '1 key' : `${c.keys.length} keys, ${first}–${last}`}
            </span>
          </button>
        );
      })}
      <Lights />
      <SkyPart />
      {(w.rig.cameras.length > 0 || w.rig.lights.length > 0) && (
        <a
          className="mt-4 block min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
          href={urlOf('/api/revisions/{id}/rig.glb', { path: { id: w.revision.id } })}
          download
        >
          Write out as glTF
        </a>
      )}
      {w.space?.unfit.map((why) => (
        <p key={why} role="note" className="mt-2 border-l-2 border-bad pl-2.5 leading-4.5">
          {why}
        </p>
      ))}
    </Panel>
  );
}

/** Makes a camera: from the view, or like another. */
function AddCamera() {
  const w = useWork();
  const frame = usePlayhead();
  const fromView = async () => {
    const v = w.view();
    if (!v) {
      return;
    }
    const name = freeName(w.revision, w.rig, 'camera');
    const { orthographic, view } = v.view();
    const key = keyOf(v.pose(), frame / w.rate, undefined, null, 'eased');
    const made = newCamera(name, { orthographic, view: round(view) }, key);
    if (await w.change((rig) => ({ ...rig, cameras: [...rig.cameras, made] }))) {
      w.choose(name);
      w.lookThrough(name);
    }
  };
  const copyOf = async (other: string) => {
    const own = w.rig.cameras.find((c) => c.name === other);
    const name = freeName(w.revision, w.rig, `${other}-copy`);
    const line = w.space?.cameras.find((c) => c.name === other);
    const place = line && w.space && placeOf(w.space, w.poses, line.node, frame);
    const seen = w.revision.report.cameras.find((c) => c.name === other);
    const made: RigCamera | undefined = own
      ? { ...own, name }
      : place && seen
        ? newCamera(
            name,
            {
              orthographic: seen.heightMetres > 0,
              view: seen.heightMetres || seen.angleDegrees,
            },
            keyOf(poseOf(place), frame / w.rate, undefined, null, 'eased'),
          )
        : undefined;
    if (made && (await w.change((rig) => ({ ...rig, cameras: [...rig.cameras, made] })))) {
      w.choose(name);
      w.lookThrough(name);
    }
  };
  const others = w.space?.cameras ?? [];
  return (
    <>
      <Button main onClick={() => void fromView()} disabled={!w.space}>
        New camera here
      </Button>
      {others.length > 0 && (
        <Choice
          label="New camera as a copy of"
          value=""
          shown="Copy of …"
          options={others.map((c) => ({
            value: c.name,
            label: c.name,
            hint: c.rig ? 'rig' : 'file',
          }))}
          onChange={(c) => void copyOf(c)}
        />
      )}
    </>
  );
}

const round = (v: number) => Math.round(v * 100) / 100;

const PANELS = 'panels';

/** The lights of the rig, and making another. */
function Lights() {
  const w = useWork();
  const frame = usePlayhead();
  const add = async (kind: RigLight['kind']) => {
    const v = w.view();
    if (!v) {
      return;
    }
    const name = freeName(w.revision, w.rig, kind);
    const key = keyOf(v.pose(), frame / w.rate, undefined, null, 'linear');
    const made: RigLight = {
      name,
      kind,
      ...USUAL[kind],
      color: [1, 1, 1],
      temperature: null,
      depth: 1,
      cone: 60,
      soft: 0.2,
      seen: true,
      group: '',
      fixedTo: '',
      keys: [key],
      on: true,
    };
    if (await w.change((rig) => ({ ...rig, lights: [...rig.lights, made] }))) {
      w.choose(name);
    }
  };
  const panels = async () => {
    const { low, high } = w.space ?? {};
    if (!low || !high) {
      return;
    }
    const o = w.picked ? await w.object(w.picked, frame) : undefined;
    const corner = (way: number) => o!.middle.map((m, k) => m + (way * o!.size[k]!) / 2);
    const around = o ? { low: corner(-1), high: corner(1) } : { low, high };
    const made = await answer(
      api.POST('/api/moves/panels', {
        body: { low: around.low, high: around.high, prefix: w.picked ? `${w.picked}-` : '' },
      }),
    );
    await w.change((rig) => {
      // A file without lights was given a plain sky to be seen by.
      let all = w.revision.report.lights === 0 ? { ...rig, sky: rig.sky ?? NO_SKY } : rig;
      for (const l of made) {
        const name = freeName(w.revision, all, l.name);
        all = { ...all, lights: [...all.lights, { ...l, name }] };
      }
      return all;
    });
  };
  return (
    <>
      <div className="mt-4 mb-1 flex items-baseline justify-between">
        <h2 className="font-[640]">
          Lights of the rig <span className="fig text-t2">{w.rig.lights.length}</span>
        </h2>
        <Choice
          label="New light"
          value=""
          shown="New light here"
          options={[
            ...KINDS,
            { value: PANELS, label: 'three panels', hint: `around ${w.picked ?? 'everything'}` },
          ]}
          onChange={(k) => void (k === PANELS ? panels() : add(k as RigLight['kind']))}
        />
      </div>
      {w.rig.lights.length === 0 && w.revision.report.lights === 0 && (
        <p className="text-t2">
          The file has no lights. Three panels around it, or a sky by place and time, are a start.
        </p>
      )}
      {w.rig.lights.map((l) => (
        <button
          key={l.name}
          className="flex min-h-7 w-full items-baseline justify-between gap-3 border-b border-line py-1 text-left hover:bg-up"
          onClick={() => w.choose(l.name)}
        >
          <span className={`truncate ${l.on ? '' : 'text-t3 line-through'}`}>{l.name}</span>
          <span className="fig shrink-0 text-t2">
            {l.on ? `${l.strength} ${UNIT[l.kind]}` : 'off'}
          </span>
        </button>
      ))}
    </>
  );
}
