import type { Recipe } from '../api/client';
import { useAddRecipe, useProduction, useShots } from '../api/queries';
import { strandView, useChangeView, useStrandParts, type StrandView } from '../api/strands';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { duration, recipeText } from '../shell/format';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useSay } from '../shell/useSay';

/** A number of a recipe: what it is called, what it means or costs. */
type Figure<G extends keyof Recipe> = {
  of: G;
  key: keyof Recipe[G] & string;
  name: string;
  hint: string;
};

const figure = <G extends keyof Recipe>(
  of: G,
  key: keyof Recipe[G] & string,
  name: string,
  hint: string,
): Figure<G> => ({ of, key, name, hint });

const RAYS = [
  figure('multipliers', 'diffuse', 'Diffuse', '× rays a sample'),
  figure('multipliers', 'specular', 'Specular', '× rays a sample'),
  figure('multipliers', 'transmission', 'Transm.', '× rays a sample'),
  figure('multipliers', 'lights', 'Lights', '× rays to lights'),
];

const BOUNCES = [
  figure('bounces', 'diffuse', 'Diffuse', '1 is direct light alone'),
  figure('bounces', 'specular', 'Specular', 'mirrors in mirrors'),
  figure('bounces', 'transmission', 'Transm.', 'surfaces of glass'),
  figure('bounces', 'transparency', 'Alpha', 'cut-outs in a row'),
  figure('bounces', 'indirectClamp', 'Clamp', 'luminance; 0 for none'),
  figure('bounces', 'roughnessFloor', 'Roughness', 'least, after a bounce'),
];

const BAKED = [
  figure('irradiance', 'every', 'Every', 'Nth frame is looked at'),
  figure('irradiance', 'accuracy', 'Accuracy', '0.02 fine to 1'),
  figure('irradiance', 'tolerance', 'Tolerance', 'error of a point'),
  figure('irradiance', 'paths', 'Paths', 'most of a point'),
];

const onOff = [
  { value: 'off', label: 'off' },
  { value: 'on', label: 'on' },
];

/** The recipe of the strand: everything that it says about quality. */
export function RecipePanel({ strand }: { strand: StrandView }) {
  const { shot } = strand;
  const recipe = strand.recipe.document;
  const change = useChangeView(strand);
  const parts = useStrandParts();
  const shots = useShots().data;
  const production = useProduction().data;
  const add = useAddRecipe();
  const tell = useTell();
  const put = useSay();
  const say = (part: Partial<Recipe>, about = 'recipe') => put(change.recipe(part), about);
  const owner = `recipe ${strand.recipe.id}`;
  const using =
    parts && shots
      ? shots
          .flatMap((s) => parts.layers.map((l) => strandView(s, l, parts)))
          .filter((v) => v?.strand.on && v.recipe.id === strand.recipe.id).length
      : 0;
  const row = <G extends keyof Recipe>({ of, key, name, hint }: Figure<G>) => {
    const group = recipe[of];
    return (
      <Row key={`${of} ${key}`} name={name} hint={hint}>
        <Field
          owner={owner}
          label={`${name}: ${hint}`}
          value={String(group[key])}
          part={(v) => ({ [of]: { ...group, [key]: Number(v) } }) as Partial<Recipe>}
          put={say}
          className="fig w-16"
        />
      </Row>
    );
  };
  const { sampling, filter, denoising, irradiance } = recipe;
  const head = 'mt-4 mb-1 font-[640]';
  return (
    <Panel
      label="Recipe"
      actions={
        <Button
          disabled={add.isPending || !production}
          onClick={() =>
            add.mutate(
              {
                productionId: production!.id,
                name: strand.recipe.name,
                copyOf: strand.recipe.id,
              },
              {
                onSuccess: (made) => void put(change.strand({ recipeId: made.id }), 'recipe'),
                onError: (e) => tell(e.message, { bad: true }),
              },
            )
          }
        >
          A copy for this strand alone
        </Button>
      }
    >
      <Field
        owner={owner}
        label="Name of the recipe"
        value={strand.recipe.name}
        part={(name) => name}
        put={(name) => put(change.recipeName(name), 'Name of the recipe')}
        className="w-full font-[640]"
      />
      <p className="mb-2 text-t2">
        used by {using} {using === 1 ? 'strand' : 'strands'}; a change makes their frames stale
      </p>
      <Row
        name="Recipe"
        hint={strand.recipeFrom === 'strand' ? 'this strand’s own' : `of the ${strand.recipeFrom}`}
      >
        <Choice
          label="Recipe of this strand"
          value={strand.recipe.id}
          options={(parts?.recipes ?? []).map((r) => ({
            value: r.id,
            label: r.name,
            hint: recipeText(r.document),
          }))}
          onChange={(id) =>
            void put(
              change.strand({
                recipeId: id === (strand.layer.document.recipeId ?? shot.recipeId) ? null : id,
              }),
              'recipe',
            )
          }
        />
      </Row>
      <h3 className={head}>Samples</h3>
      {row(figure('sampling', 'most', 'Samples', 'per pixel'))}
      <Row name="Adaptive" hint="clean pixels rest">
        <Choice
          label="Adaptive sampling"
          value={sampling.adaptive ? 'on' : 'off'}
          options={onOff}
          onChange={(v) => void say({ sampling: { ...sampling, adaptive: v === 'on' } })}
        />
      </Row>
      {sampling.adaptive && (
        <>
          {row(figure('sampling', 'least', 'Least', 'samples of each'))}
          {row(figure('sampling', 'noiseThreshold', 'Clean', 'noise, 0.03 is 3 %'))}
        </>
      )}
      <Row
        name="Time limit"
        hint="seconds a frame"
        note={
          sampling.seconds > 0
            ? `no more than ${duration(sampling.seconds)} a frame; the noise is what is reached by then`
            : 'none'
        }
      >
        <Field
          owner={owner}
          label="Time limit: seconds a frame, 0 for none"
          value={String(sampling.seconds)}
          part={(v) => ({ sampling: { ...sampling, seconds: Number(v) } })}
          put={say}
          className="fig w-16"
        />
      </Row>
      <Row name="Pattern">
        <Choice
          label="Sampling pattern"
          value={sampling.pattern}
          options={[
            { value: 'spread', label: 'spread', hint: 'less noise' },
            { value: 'random', label: 'random', hint: 'to compare' },
          ]}
          onChange={(pattern) => void say({ sampling: { ...sampling, pattern } })}
        />
      </Row>
      <Row name="Grain">
        <Choice
          label="Grain"
          value={sampling.seedPerFrame ? 'moves' : 'stands'}
          options={[
            { value: 'stands', label: 'the same in all frames' },
            { value: 'moves', label: 'another in each frame' },
          ]}
          onChange={(v) => void say({ sampling: { ...sampling, seedPerFrame: v === 'moves' } })}
        />
      </Row>
      {row(figure('sampling', 'seed', 'Seed', 'of the pattern'))}
      <h3 className={head}>Denoise</h3>
      <Row name="Denoise">
        <Choice
          label="Denoise"
          value={denoising.picture ? 'on' : 'off'}
          options={onOff}
          onChange={(v) => void say({ denoising: { ...denoising, picture: v === 'on' } })}
        />
      </Row>
      {denoising.picture && row(figure('denoising', 'amount', 'Amount', '0 to 1, 1 is all'))}
      <h3 className={head}>Rays at the first surface</h3>
      {RAYS.map(row)}
      <h3 className={head}>Bounces</h3>
      {BOUNCES.map(row)}
      <h3 className={head}>Filter</h3>
      <Row name="Shape">
        <Choice
          label="Filter"
          value={filter.shape}
          options={[
            { value: 'gaussian', label: 'bell' },
            { value: 'tent', label: 'tent' },
            { value: 'box', label: 'box', hint: 'sharpest' },
          ]}
          onChange={(shape) => void say({ filter: { ...filter, shape } })}
        />
      </Row>
      {row(figure('filter', 'radius', 'Radius', 'px, 0.5 to 4'))}
      <h3 className={head}>Baked light</h3>
      <Row
        name="Bake"
        note={irradiance.use ? 'only where nothing but the camera moves' : undefined}
      >
        <Choice
          label="Baked light"
          value={irradiance.use ? 'on' : 'off'}
          options={onOff}
          onChange={(v) => void say({ irradiance: { ...irradiance, use: v === 'on' } })}
        />
      </Row>
      {irradiance.use && (
        <>
          {BAKED.map(row)}
          <Row name="Direct" hint="in it too">
            <Choice
              label="Direct light baked"
              value={irradiance.direct ? 'on' : 'off'}
              options={onOff}
              onChange={(v) => void say({ irradiance: { ...irradiance, direct: v === 'on' } })}
            />
          </Row>
        </>
      )}
    </Panel>
  );
}
