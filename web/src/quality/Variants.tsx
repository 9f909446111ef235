import { useEffect, useRef, useState } from 'react';
import { compareVariants, type Part, type Recipe, type Variant } from '../api/client';
import { useRecipes } from '../api/queries';
import { useChangeView, type StrandView } from '../api/strands';
import { Compare } from '../picture/Compare';
import { Rectangle } from '../picture/Rectangle';
import { StrandPicture } from '../picture/StrandPicture';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { duration, percent } from '../shell/format';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { useUndo } from '../shell/undo';
import { partOf, SETTINGS, settingId, settingName, valueOf, type Setting } from './settings';

const VIEWER = `variants-${Math.random().toString(36).slice(2)}`;

/** Most variants at once, the recipe as it is among them. */
const MOST = 6;

/** What is varied in place of one setting. */
const RECIPES = 'recipes';

/** A variant that is to be rendered. */
type Wanted = { label: string; recipe: Recipe };

const START = 'bounces.diffuse';
const NUMBERS = /^[\d.\s,;e-]+$/i;

/** What is tried first of a setting: other values than it has. */
function firstValues(s: Setting, r: Recipe): string {
  if (s.options) {
    return '';
  }
  const now = Number(valueOf(r, s));
  const some = now === 0 ? [1, 4, 16] : [now / 4, now / 2, now * 2];
  const whole = ['most', 'least', 'paths', 'every'].includes(s.key) || s.of === 'bounces';
  return [
    ...new Set(some.map((v) => (whole ? Math.max(1, Math.round(v)) : Number(v.toPrecision(2))))),
  ]
    .filter((v) => v !== now && (s.key !== 'amount' || v <= 1))
    .join(', ');
}

/** Two to six settings of anything on the same part of a frame. */
export function Variants({
  strand,
  part,
  onPart,
}: {
  strand: StrandView;
  part: Part;
  onPart: (p: Part) => void;
}) {
  const { shot, layer } = strand;
  const recipe = strand.recipe.document;
  const frame = usePlayhead();
  const recipes = useRecipes().data ?? [];
  const [varied, setVaried] = useState(START);
  const setting = SETTINGS.find((s) => settingId(s) === varied);
  const [typed, setTyped] = useState<string>();
  const values = typed ?? (setting ? firstValues(setting, recipe) : '');
  const [equal, setEqual] = useState<'samples' | 'time'>('samples');
  const [most, setMost] = useState('32');
  const [rendered, setRendered] = useState<Wanted[]>([]);
  const [states, setStates] = useState<(Variant | undefined)[]>([]);
  const [running, setRunning] = useState(false);
  const [failed, setFailed] = useState<string>();
  const [pair, setPair] = useState<[number, number]>();
  const stopping = useRef<AbortController>(undefined);
  const change = useChangeView(strand);
  const tell = useTell();
  const undo = useUndo();
  useEffect(() => () => stopping.current?.abort(), []);

  const now: Wanted = { label: 'now', recipe };
  const others: Wanted[] = !setting
    ? recipes
        .filter((r) => r.id !== strand.recipe.id)
        .map((r) => ({ label: r.name, recipe: r.document }))
    : setting.options
      ? setting.options
          .filter((o) => o.value !== valueOf(recipe, setting))
          .map((o) => ({
            label: `${setting.name.toLowerCase()} ${o.label}`,
            recipe: { ...recipe, ...partOf(recipe, setting, o.value) },
          }))
      : values
          .split(/[\s,;]+/)
          .filter(Boolean)
          .map(Number)
          .filter((v) => v !== valueOf(recipe, setting))
          .map((v) => ({
            label: `${setting.name.toLowerCase()} ${v}`,
            recipe: { ...recipe, ...partOf(recipe, setting, v) },
          }));
  const wanted = [now, ...others].slice(0, MOST);
  const odd = setting && !setting.options && values !== '' && !NUMBERS.test(values);

  const run = (p: Part) => {
    stopping.current?.abort();
    const own = new AbortController();
    stopping.current = own;
    setRendered(wanted);
    setStates(wanted.map(() => undefined));
    setFailed(undefined);
    setPair(undefined);
    setRunning(true);
    const number = Number(most);
    compareVariants(
      shot.id,
      {
        viewer: VIEWER,
        layerId: layer.id,
        frame,
        part: p,
        samples: equal === 'samples' ? number : 0,
        seconds: equal === 'time' ? number : 0,
        recipes: wanted.map((w) => w.recipe),
      },
      (v) => setStates((all) => all.map((o, i) => (i === v.index ? { ...o, ...v } : o))),
      own.signal,
    ).then(
      () => setRunning(false),
      (e: Error) => {
        if (!own.signal.aborted) {
          setFailed(e.message);
          setRunning(false);
        }
      },
    );
  };
  const stop = () => {
    stopping.current?.abort();
    setRunning(false);
  };
  const take = (w: Wanted) =>
    void change.recipe(w.recipe).then(
      () =>
        tell(`Recipe ${strand.recipe.name}: ${w.label}.`, {
          action: { label: 'Undo', run: () => undo('undo') },
        }),
      (e: Error) => tell(e.message, { bad: true }),
    );
  // The two that were pressed last; the first press is held against what is now.
  const press = (i: number) => setPair((p) => (!p ? [0, i || 1] : p.includes(i) ? p : [p[1], i]));
  const shown = pair?.map((i) => ({
    label: rendered[i]!.label,
    src: `data:image/png;base64,${states[i]?.data}`,
  }));
  const first = states.find((s) => s?.data);
  const input =
    'fig rounded-sm border border-line bg-transparent px-1.5 min-h-7 focus:border-t2 focus:outline-none';
  return (
    <>
      <div className="flex min-h-12 shrink-0 flex-wrap items-center gap-x-4 gap-y-1">
        <span className="flex items-center gap-2">
          <span className="text-t2">Vary</span>
          <Choice
            label="What is varied"
            value={varied}
            options={[
              ...SETTINGS.map((s) => ({
                value: settingId(s),
                label: settingName(s),
                hint: s.hint,
              })),
              { value: RECIPES, label: 'the whole recipe', hint: 'all there are' },
            ]}
            onChange={(v) => {
              setVaried(v);
              setTyped(undefined);
            }}
          />
        </span>
        {setting && !setting.options && (
          <input
            aria-label="Values, with commas"
            aria-invalid={odd}
            className={`${input} w-40 ${odd ? 'border-dashed border-bad' : ''}`}
            value={values}
            onChange={(e) => setTyped(e.target.value)}
          />
        )}
        <span className="flex items-center gap-2">
          <Choice
            label="What each gets"
            value={equal}
            options={[
              { value: 'samples', label: 'the same samples' },
              { value: 'time', label: 'the same time' },
            ]}
            onChange={(e) => {
              setEqual(e);
              setMost(e === 'samples' ? '32' : '5');
            }}
          />
          <input
            aria-label={equal === 'samples' ? 'Samples of each' : 'Seconds of each'}
            className={`${input} w-14`}
            value={most}
            onChange={(e) => setMost(e.target.value)}
          />
          <span className="text-t2">{equal === 'samples' ? 'samples' : 's'}</span>
        </span>
        <span className="ml-auto">
          {running ? (
            <Button onClick={stop}>Stop</Button>
          ) : (
            <Button disabled={wanted.length < 2 || odd} onClick={() => run(part)}>
              Compare {wanted.length}
            </Button>
          )}
        </span>
      </div>
      {odd && <p className="text-bad">Values are numbers with commas between them: 2, 4, 8.</p>}
      {failed && <p className="text-bad">{failed}</p>}
      <div
        className={`grid min-h-0 gap-x-4 gap-y-3 overflow-auto pb-3 ${shown ? 'shrink-0 auto-cols-[150px] grid-flow-col' : 'flex-1 grid-cols-3 content-start'}`}
      >
        {!shown && (
          <div>
            <div className="flex aspect-video">
              <StrandPicture
                strand={strand}
                frame={frame}
                still={running}
                over={
                  <Rectangle
                    part={part}
                    label="Part of the picture; draw another rectangle"
                    onDraw={onPart}
                  />
                }
              />
            </div>
            <p className="mt-7 text-xs text-t2">
              Draw a rectangle, say what is varied, and compare. Press a picture to hold it against
              the first.
            </p>
          </div>
        )}
        {rendered.map((w, i) => (
          <VariantView
            key={i}
            label={w.label}
            state={states[i]}
            small={!!shown}
            chosen={pair?.includes(i) ?? false}
            now={i === 0}
            onChoose={() => press(i)}
            onTake={() => take(w)}
          />
        ))}
      </div>
      {shown && first && pair && (
        <>
          <p className="fig text-t2">
            apart {percentApart(states[pair[0]], pair[1])}
            <button
              className="ml-5 text-t1 underline underline-offset-3"
              onClick={() => setPair(undefined)}
            >
              all of them
            </button>
          </p>
          <Compare a={shown[0]!} b={shown[1]!} aspect={first.width / first.height} />
        </>
      )}
    </>
  );
}

function percentApart(of: Variant | undefined, from: number): string {
  const apart = of?.apart[from];
  return apart === undefined || apart === null ? 'not known yet' : percent(apart);
}

/** How much light is gone: what the clamp took, and what the first has more. */
function lightText(v: Variant): string {
  const cut = v.cut >= 0.0005 ? `clamp took ${percent(v.cut)}` : '';
  const more = v.light === null ? 0 : v.light - 1;
  const light =
    v.index === 0 || v.light === null
      ? ''
      : Math.abs(more) < 0.0005
        ? 'light as now'
        : `light ${more > 0 ? '+' : '−'}${percent(Math.abs(more))}`;
  return [light, cut].filter(Boolean).join(', ');
}

function VariantView({
  label,
  state,
  small,
  chosen,
  now,
  onChoose,
  onTake,
}: {
  label: string;
  state: Variant | undefined;
  small: boolean;
  chosen: boolean;
  now: boolean;
  onChoose: () => void;
  onTake: () => void;
}) {
  const quiet = 'text-t1 underline underline-offset-3';
  return (
    <div data-testid={`variant-${label}`}>
      {state?.data ? (
        <button
          aria-pressed={chosen}
          aria-label={`Compare ${label}`}
          className={`block w-full outline ${chosen ? 'outline-2 outline-mark' : 'outline-0'}`}
          onClick={onChoose}
        >
          <img
            src={`data:image/png;base64,${state.data}`}
            alt={label}
            className="w-full bg-bg"
            style={{
              aspectRatio: `${state.width} / ${state.height}`,
              imageRendering: 'pixelated',
            }}
          />
        </button>
      ) : (
        <p className="grid aspect-video place-items-center border border-dashed border-line px-3 text-center text-t2">
          {state?.refused ??
            (state?.baking !== undefined && state.baking !== null
              ? `baking light from this frame, ${percent(state.baking)} …`
              : 'waiting …')}
        </p>
      )}
      <p className="mt-1 flex items-baseline justify-between gap-2">
        <b className="truncate">{label}</b>
        {state && state.samples > 0 && (
          <span className="fig text-t2">
            {state.samples}
            {state.done ? '' : ' …'}
          </span>
        )}
      </p>
      {state && state.samples > 0 && !small && (
        <>
          <p className="fig flex justify-between gap-2 text-t2">
            <span>noise {percent(state.noise)}</span>
            <span>{duration(state.seconds)}</span>
            <span>frame {duration(state.frameSeconds)}</span>
          </p>
          <p className="fig flex min-h-6 justify-between gap-2 text-t2">
            <span>
              {lightText(state)}
              {state.bakeSeconds !== null && ` baked in ${duration(state.bakeSeconds)}`}
            </span>
            {!now && (
              <button className={quiet} onClick={onTake}>
                take it
              </button>
            )}
          </p>
        </>
      )}
    </div>
  );
}
