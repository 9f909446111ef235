import { useEffect, useRef, useState } from 'react';
import { useObject } from '../api/rigs';
import type { Rig } from '../api/client';
import { count, metres } from '../shell/format';
import { Field } from '../shell/Field';
import { usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { useSettled } from '../shell/useSettled';
import { frameOf } from '../space/pose';
import { useWork } from './work';

type Material = Rig['materials'][number];

/** What the chosen object is, and what the production changes about it. */
export function ObjectPart({ name }: { name: string }) {
  const w = useWork();
  const frame = usePlayhead();
  const at = useSettled(frame, 150);
  const o = useObject(w.revision.id, w.version, name, at);
  if (!o || o.name !== name) {
    return null;
  }
  const span =
    o.firstKey === null || o.lastKey === null
      ? 'static'
      : `frames ${frameOf(o.firstKey, w.rate)}–${frameOf(o.lastKey, w.rate)}`;
  const changed = w.rig.objects.find((x) => x.object === name);
  const shownNow =
    changed?.shown.filter((s) => s.time <= frame / w.rate + 1e-6).at(-1)?.there ?? true;
  const key = (there: boolean) => {
    const time = frame / w.rate;
    const rest = (changed?.shown ?? []).filter((s) => Math.abs(s.time - time) > 1e-4);
    const start = rest.length || time <= 1e-4 ? [] : [{ time: 0, there: !there }];
    const shown = [...start, ...rest, { time, there }].sort((a, b) => a.time - b.time);
    void w.change((rig) => ({
      ...rig,
      objects: [...rig.objects.filter((x) => x.object !== name), { object: name, shown, on: true }],
    }));
  };
  return (
    <section className="mb-4" aria-label="Chosen object">
      <div className="mb-1 flex items-baseline justify-between gap-3">
        <h2 className="truncate font-[640]">{name}</h2>
        <button className="min-h-6 text-t2 hover:text-t1" onClick={() => w.choose(undefined)}>
          Choose nothing
        </button>
      </div>
      <Row name="Triangles" hint={span}>
        {count(o.triangles)}
      </Row>
      <Row name="Size" hint="w × h × d">
        {o.size.map((s) => metres(s)).join(' × ')}
      </Row>
      <Row name="Textures" hint={o.textures.slice(0, 2).join(', ')}>
        {o.textures.length}
      </Row>
      <Row
        name="Visible"
        hint={changed ? `${changed.shown.length} keys` : 'as in the file'}
        note={
          changed &&
          changed.shown
            .map((s) => `${s.there ? 'there' : 'gone'} from frame ${frameOf(s.time, w.rate)}`)
            .join(', ')
        }
      >
        <span className="flex items-center gap-2">
          <button className="min-h-6 text-t1 hover:text-mark" onClick={() => key(!shownNow)}>
            {shownNow ? 'Hide' : 'Show'} from {frame}
          </button>
          {changed && (
            <>
              <input
                type="checkbox"
                className="m-1.25 size-3.5 shrink-0 self-center"
                aria-label={`Visibility keys of ${name} count`}
                checked={changed.on}
                onChange={(e) =>
                  void w.change((rig) => ({
                    ...rig,
                    objects: rig.objects.map((x) =>
                      x.object === name ? { ...x, on: e.target.checked } : x,
                    ),
                  }))
                }
              />
              <button
                aria-label={`Remove the visibility keys of ${name}`}
                className="min-h-6 min-w-6 text-t3 hover:text-t1"
                onClick={() =>
                  void w.change((rig) => ({
                    ...rig,
                    objects: rig.objects.filter((x) => x.object !== name),
                  }))
                }
              >
                ×
              </button>
            </>
          )}
        </span>
      </Row>
      {o.materials.slice(0, 12).map((m) => (
        <MaterialRow key={m} name={m} />
      ))}
      {o.materials.length > 12 && (
        <p className="text-t3">and {o.materials.length - 12} more materials</p>
      )}
    </section>
  );
}

const PLAIN = { brightness: 1, tint: [1, 1, 1], roughness: 1, on: true };

/** A material made different by factors. */
function MaterialRow({ name }: { name: string }) {
  const w = useWork();
  const own = w.rig.materials.find((m) => m.material === name);
  const put = async (part: Partial<Material>): Promise<string | undefined> => {
    const next: Material = { material: name, ...PLAIN, ...own, ...part };
    const done = await w.change((rig) => ({
      ...rig,
      materials: [...rig.materials.filter((m) => m.material !== name), next],
    }));
    return done ? undefined : 'was not taken';
  };
  const owner = `material ${name}`;
  const number = (v: string) => Number(v.replace(',', '.'));
  return (
    <Row name="Material" hint={own ? undefined : 'as in the file'}>
      <span className="flex items-center justify-between gap-2">
        <span className="truncate">{name}</span>
        {own ? (
          <span className="flex">
            <input
              type="checkbox"
              className="m-1.25 size-3.5 shrink-0 self-center"
              aria-label={`Change of ${name} counts`}
              checked={own.on}
              onChange={(e) => void put({ on: e.target.checked })}
            />
            <button
              aria-label={`Remove the change of ${name}`}
              className="min-h-6 min-w-6 text-t3 hover:text-t1"
              onClick={() =>
                void w.change((rig) => ({
                  ...rig,
                  materials: rig.materials.filter((m) => m.material !== name),
                }))
              }
            >
              ×
            </button>
          </span>
        ) : (
          <button className="min-h-6 text-t2 hover:text-t1" onClick={() => void put({})}>
            Change
          </button>
        )}
      </span>
      {own && (
        <span className="flex flex-wrap items-baseline gap-x-1.5 text-t2">
          <Field
            owner={owner}
            label={`Brightness of ${name}, times`}
            value={String(own.brightness)}
            part={(v) => ({ brightness: number(v) })}
            put={put}
            className="fig w-10 text-t1"
          />
          × bright,
          <Field
            owner={owner}
            label={`Roughness of ${name}, times`}
            value={String(own.roughness)}
            part={(v) => ({ roughness: number(v) })}
            put={put}
            className="fig w-10 text-t1"
          />
          × rough,
          <ColourField
            label={`Tint of ${name}`}
            value={own.tint}
            onChange={(tint) => void put({ tint })}
          />
        </span>
      )}
    </Row>
  );
}

const toDisplay = (v: number) =>
  Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055));
const toLinear = (v: number) =>
  v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4;

/** After so long without a change a colour is chosen. */
const CHOSEN_MS = 400;

/** A colour that is chosen as it is displayed, and kept scene-linear. */
export function ColourField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number[];
  onChange: (v: number[]) => void;
}) {
  const hex = `#${value
    .map((v) =>
      toDisplay(Math.max(0, Math.min(1, v)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
  // While it is being chosen it is only shown; each step would be one to undo.
  const [shown, setShown] = useState<string>();
  const wait = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(wait.current), []);
  return (
    <input
      type="color"
      aria-label={label}
      value={shown ?? hex}
      className="h-6 w-9 cursor-pointer rounded-sm border border-line bg-transparent p-0.5"
      onChange={(e) => {
        const text = e.target.value;
        setShown(text);
        clearTimeout(wait.current);
        wait.current = setTimeout(() => {
          const n = parseInt(text.slice(1), 16);
          setShown(undefined);
          onChange([n >> 16, (n >> 8) & 255, n & 255].map((v) => Number(toLinear(v).toFixed(5))));
        }, CHOSEN_MS);
      }}
    />
  );
}
