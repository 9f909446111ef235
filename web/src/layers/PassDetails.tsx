import type { Settings } from '../api/client';
import { useLights } from '../api/layers';
import { useChangeView, type StrandView } from '../api/strands';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { Row } from '../shell/Row';

type Passes = Settings['passes'];
type Own = Passes['own'][string];

const QUANTITIES: { value: Own['quantity']; label: string; hint: string }[] = [
  { value: 'facing', label: 'facing', hint: '0 at the rim to 1' },
  { value: 'curvature', label: 'curvature', hint: 'grooves below 0, edges above' },
  { value: 'height', label: 'height', hint: 'metres' },
  { value: 'constant', label: 'a number for each object', hint: '' },
];

const FIRST: Own = {
  quantity: 'facing',
  radius: 0.05,
  constants: {},
  ramp: [
    { at: 0, color: [0, 0, 0] },
    { at: 1, color: [1, 1, 1] },
  ],
};

/** A name that is not taken yet. */
function freeName(first: string, taken: object): string {
  let name = first;
  for (let k = 2; name in taken; k++) {
    name = `${first}-${k}`;
  }
  return name;
}

/** The same under another name, at its place. */
const renamed = <V,>(all: Record<string, V>, from: string, to: string) =>
  Object.fromEntries(Object.entries(all).map(([k, v]) => [k === from ? to : k, v]));

const without = <V,>(all: Record<string, V>, name: string) =>
  Object.fromEntries(Object.entries(all).filter(([k]) => k !== name));

/** A ramp as it is typed: a value, then red, green and blue; stops after commas. */
export const rampText = (ramp: Own['ramp']) =>
  ramp.map((s) => `${s.at} ${s.color.join(' ')}`).join(', ');

export const rampOf = (text: string): Own['ramp'] =>
  text.split(',').map((stop) => {
    const [at, ...color] = stop.trim().split(/\s+/).map(Number);
    return { at: at!, color };
  });

/** How some of the passes are taken: light groups, passes of one's own, occlusion, mattes. */
export function PassDetails({
  strand,
  shown,
  onShow,
  put,
}: {
  strand: StrandView;
  /** The pass of one's own that is shown large. */
  shown: string | undefined;
  onShow: (name: string | undefined) => void;
  put: (changed: Promise<unknown>, about: string) => Promise<string | undefined>;
}) {
  const { passes } = strand.settings;
  const { lightGroups, own } = passes;
  const change = useChangeView(strand);
  const known = useLights(strand.layer, strand.shot.revisionId);
  const owner = `passes of layer ${strand.layer.id}`;
  const say = (part: Partial<Passes>, about = 'passes') => put(change.passes(part), about);
  const small =
    'min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1 disabled:no-underline';
  const wantedWith = (name: Passes['wanted'][number]) =>
    passes.wanted.includes(name) ? passes.wanted : [...passes.wanted, name];
  return (
    <>
      <section aria-label="Light groups" className="mb-5">
        <h3 className="font-[640]">Light groups</h3>
        <p className="mb-1 text-xs text-t3">
          The beauty by where its light comes from, to relight without rendering. Names or patterns;{' '}
          {known && `${known.lights.length} lights: ${known.lights.slice(-6).join(', ')}`}
        </p>
        {Object.entries(lightGroups).map(([name, match]) => (
          <div key={name} className="flex items-baseline gap-2 border-b border-line py-1">
            <Field
              owner={`${owner} ${name}`}
              label={`Name of light group ${name}`}
              value={name}
              part={(to) => ({ lightGroups: renamed(lightGroups, name, to) })}
              put={say}
              className="w-20"
            />
            <Field
              owner={`${owner} ${name}`}
              label={`Lights of group ${name}`}
              value={match.join(' ')}
              part={(v) => ({ lightGroups: { ...lightGroups, [name]: v.trim().split(/\s+/) } })}
              put={say}
              className="min-w-0 flex-1"
            />
            <button
              className={small}
              onClick={() => void say({ lightGroups: without(lightGroups, name) })}
            >
              remove
            </button>
          </div>
        ))}
        {known?.odd.map((o) => (
          <p key={o} className="py-1 text-xs text-bad">
            {o}
          </p>
        ))}
        <button
          className={small}
          onClick={() =>
            void say({
              lightGroups: { ...lightGroups, [freeName('lamps', lightGroups)]: ['*'] },
              wanted: wantedWith('light-groups'),
            })
          }
        >
          Add a light group
        </button>
      </section>
      <section aria-label="Passes of your own" className="mb-5">
        <h3 className="font-[640]">Passes of your own</h3>
        <p className="mb-1 text-xs text-t3">A quantity of the surface through a ramp of colours.</p>
        {Object.entries(own).map(([name, o]) => {
          const with_ = (part: Partial<Own>) => ({ own: { ...own, [name]: { ...o, ...part } } });
          return (
            <div key={name} className="border-b border-line py-1">
              <div className="flex items-baseline gap-2">
                <Field
                  owner={`${owner} ${name}`}
                  label={`Name of pass ${name}`}
                  value={name}
                  part={(to) => ({ own: renamed(own, name, to) })}
                  put={(part, about) => {
                    onShow(undefined);
                    return say(part, about);
                  }}
                  className="w-20"
                />
                <span className="min-w-0 flex-1">
                  <Choice
                    label={`Quantity of ${name}`}
                    value={o.quantity}
                    options={QUANTITIES}
                    onChange={(quantity) => void say(with_({ quantity }))}
                  />
                </span>
                <button
                  className={small}
                  aria-pressed={shown === name}
                  onClick={() => onShow(shown === name ? undefined : name)}
                >
                  picture
                </button>
                <button
                  className={small}
                  onClick={() => {
                    onShow(undefined);
                    void say({
                      own: without(own, name),
                      wanted:
                        Object.keys(own).length === 1
                          ? passes.wanted.filter((w) => w !== 'own')
                          : passes.wanted,
                    });
                  }}
                >
                  remove
                </button>
              </div>
              {o.quantity === 'curvature' && (
                <Row name="Radius" hint="metres">
                  <Field
                    owner={`${owner} ${name}`}
                    label={`Radius of ${name}`}
                    value={String(o.radius)}
                    part={(v) => with_({ radius: Number(v) })}
                    put={say}
                    className="fig w-16"
                  />
                </Row>
              )}
              {o.quantity === 'constant' && (
                <Row name="Numbers" note="a name or pattern, then its number; commas between">
                  <Field
                    owner={`${owner} ${name}`}
                    label={`Numbers of ${name}`}
                    value={
                      Object.entries(o.constants)
                        .map(([k, v]) => `${k} ${v}`)
                        .join(', ') || 'none'
                    }
                    part={(v) =>
                      with_({
                        constants: Object.fromEntries(
                          v.split(',').map((e) => {
                            const [k, n] = e.trim().split(/\s+/);
                            return [k!, Number(n)];
                          }),
                        ),
                      })
                    }
                    put={say}
                    className="w-full"
                  />
                </Row>
              )}
              <Row name="Ramp" note="value red green blue, stops after commas">
                <Ramp ramp={o.ramp} />
                <Field
                  owner={`${owner} ${name}`}
                  label={`Ramp of ${name}`}
                  value={rampText(o.ramp)}
                  part={(v) => with_({ ramp: rampOf(v) })}
                  put={say}
                  className="fig w-full"
                />
              </Row>
            </div>
          );
        })}
        <button
          className={small}
          onClick={() => {
            const name = freeName('facing-ramp', own);
            void say({ own: { ...own, [name]: FIRST }, wanted: wantedWith('own') }).then(
              (why) => why === undefined && onShow(name),
            );
          }}
        >
          Add a pass
        </button>
      </section>
      <section aria-label="How they are taken">
        <Row name="Occlusion" hint="radius, metres">
          <Field
            owner={owner}
            label="Radius of ambient occlusion"
            value={String(passes.occlusionRadius)}
            part={(v) => ({ occlusionRadius: Number(v) })}
            put={say}
            className="fig w-16"
          />
        </Row>
        <Row name="Falloff" hint="0 none, 1 straight">
          <Field
            owner={owner}
            label="Falloff of ambient occlusion"
            value={String(passes.occlusionFalloff)}
            part={(v) => ({ occlusionFalloff: Number(v) })}
            put={say}
            className="fig w-16"
          />
        </Row>
        <Row name="Mattes" hint="names a pixel">
          <Choice
            label="Names in a matte"
            value={passes.matteRanks}
            options={[2, 4, 6, 8, 12, 16].map((n) => ({ value: n, label: String(n) }))}
            onChange={(matteRanks) => void say({ matteRanks })}
          />
        </Row>
      </section>
    </>
  );
}

/** The ramp as a strip of its colours, each as wide as it reaches. */
function Ramp({ ramp }: { ramp: Own['ramp'] }) {
  const first = ramp[0]!.at;
  const width = (ramp.at(-1)!.at - first || 1) / 100;
  const shown = (c: number) => Math.round(255 * Math.min(1, c) ** (1 / 2.2));
  const stops = ramp.map(
    (s) => `rgb(${s.color.map(shown).join(' ')}) ${((s.at - first) / width).toFixed(1)}%`,
  );
  return (
    <i
      aria-hidden="true"
      className="mb-1 block h-2.5 w-full"
      style={{
        background: stops.length > 1 ? `linear-gradient(90deg, ${stops.join(', ')})` : undefined,
      }}
    />
  );
}
