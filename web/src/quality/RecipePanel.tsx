import type { Recipe } from '../api/client';
import { useAddRecipe, useProduction } from '../api/queries';
import { useChangeView, useStrandParts, type StrandView } from '../api/strands';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { recipeText } from '../shell/format';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useSay } from '../shell/useSay';
import { Reached } from './Reached';
import { GROUPS, settingId } from './settings';
import { SettingValue } from './SettingValue';
import { strandsText, usedText, useUse } from './useUse';

/** The recipe of the strand: everything that it says about quality. */
export function RecipePanel({ strand }: { strand: StrandView }) {
  const { shot } = strand;
  const recipe = strand.recipe.document;
  const change = useChangeView(strand);
  const parts = useStrandParts();
  const production = useProduction().data;
  const add = useAddRecipe();
  const tell = useTell();
  const put = useSay();
  const use = useUse()(strand.recipe.id);
  const say = (part: Partial<Recipe>, about = 'recipe') => put(change.recipe(part), about);
  const owner = `recipe ${strand.recipe.id}`;
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
      <p
        className="mb-2 text-t2"
        title={use.strands.map((v) => `${v.shot.name}, ${v.layer.name}`).join('\n')}
      >
        {usedText(use)}
        {use.strands.length > 0 && (
          <span className="block text-xs text-t3">{strandsText(use)}</span>
        )}
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
      <Reached strand={strand} />
      {GROUPS.map(([group, settings]) => (
        <section key={group}>
          <h3 className="mt-4 mb-1 font-[640]">{group}</h3>
          {settings
            .filter((s) => s.counts?.(recipe) ?? true)
            .map((s) => (
              <div key={settingId(s)} title={s.does}>
                <Row name={s.name} hint={s.hint}>
                  <SettingValue setting={s} recipe={recipe} owner={owner} put={say} name={s.name} />
                </Row>
              </div>
            ))}
        </section>
      ))}
    </Panel>
  );
}
