import { useState } from 'react';
import type { Definition, Recipe } from '../api/client';
import { useAddRecipe, useChangeRecipe, useProduction, useRecipes } from '../api/queries';
import { useChangeView, type StrandView } from '../api/strands';
import { Button } from '../shell/Button';
import { useTell } from '../shell/Notices';
import { useSay } from '../shell/useSay';
import { GROUPS, settingId, settingName, valueOf, type Setting } from './settings';
import { SettingValue } from './SettingValue';
import { usedText, useUse } from './useUse';

/** All recipes side by side: what differs stands out. */
export function RecipeTable({ strand }: { strand: StrandView }) {
  const recipes = useRecipes().data ?? [];
  const [all, setAll] = useState(false);
  const add = useAddRecipe();
  const production = useProduction().data;
  const tell = useTell();
  const change = useChangeView(strand);
  const put = useSay();
  const use = useUse();
  const differs = (s: Setting) =>
    new Set(recipes.map((r) => String(valueOf(r.document, s)))).size > 1;
  const groups = GROUPS.map(
    ([g, settings]) => [g, settings.filter((s) => all || differs(s))] as const,
  ).filter(([, settings]) => settings.length > 0);
  const option = (on: boolean) => `min-h-6 ${on ? 'font-semibold' : 'text-t2 hover:text-t1'}`;
  return (
    <>
      <div className="flex h-12 shrink-0 items-center gap-4">
        <button aria-pressed={!all} className={option(!all)} onClick={() => setAll(false)}>
          What differs
        </button>
        <button aria-pressed={all} className={option(all)} onClick={() => setAll(true)}>
          All settings
        </button>
        <span className="ml-auto">
          <Button
            disabled={add.isPending || !production}
            onClick={() =>
              add.mutate(
                {
                  productionId: production!.id,
                  name: strand.recipe.name,
                  copyOf: strand.recipe.id,
                },
                { onError: (e) => tell(e.message, { bad: true }) },
              )
            }
          >
            Add a copy of {strand.recipe.name}
          </Button>
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-auto pb-4">
        <table className="border-collapse">
          <thead className="sticky top-0 z-10 bg-well text-left align-bottom">
            <tr>
              <th className="sticky left-0 min-w-40 bg-well pr-4 font-normal text-t2">setting</th>
              {recipes.map((r) => (
                <th key={r.id} className="min-w-34 border-l border-line px-3 py-1 align-top">
                  {r.name}
                  <span className="block text-xs font-normal text-t2">{usedText(use(r.id))}</span>
                  {r.id !== strand.recipe.id ? (
                    <button
                      className="min-h-6 text-xs font-normal underline underline-offset-3"
                      onClick={() => void put(change.strand({ recipeId: r.id }), 'recipe')}
                    >
                      use it here
                    </button>
                  ) : (
                    <span className="block min-h-6 border-b-2 border-mark text-xs">
                      of this strand
                    </span>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          {groups.map(([group, settings]) => (
            <tbody key={group}>
              <tr>
                <th
                  colSpan={recipes.length + 1}
                  className="pt-3 pb-1 text-left font-[640]"
                  scope="rowgroup"
                >
                  {group}
                </th>
              </tr>
              {settings.map((s) => (
                <SettingLine
                  key={settingId(s)}
                  setting={s}
                  recipes={recipes}
                  differs={differs(s)}
                />
              ))}
            </tbody>
          ))}
        </table>
        {groups.length === 0 && <p className="pt-3 text-t2">All recipes are the same.</p>}
      </div>
    </>
  );
}

function SettingLine({
  setting,
  recipes,
  differs,
}: {
  setting: Setting;
  recipes: Definition<Recipe>[];
  differs: boolean;
}) {
  const change = useChangeRecipe();
  const put = useSay();
  return (
    <tr className="border-t border-line align-baseline" title={setting.does}>
      <th
        scope="row"
        className={`sticky left-0 bg-well pr-4 text-left ${differs ? 'font-semibold' : 'font-normal text-t2'}`}
      >
        {setting.name} <span className="text-xs font-normal text-t3">{setting.hint}</span>
      </th>
      {recipes.map((r) => {
        const counts = setting.counts?.(r.document) ?? true;
        return (
          <td
            key={r.id}
            className={`border-l border-line px-3 py-0.5 ${!counts ? 'text-t3' : differs ? 'font-semibold' : 'text-t2'}`}
            title={counts ? undefined : 'Counts for nothing as this recipe is'}
          >
            <SettingValue
              setting={setting}
              recipe={r.document}
              owner={`recipe ${r.id}`}
              put={(part, about = 'recipe') => put(change.mutateAsync({ id: r.id, part }), about)}
              name={`${r.name}, ${settingName(setting)}`}
            />
          </td>
        );
      })}
    </tr>
  );
}
