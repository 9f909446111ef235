import type { Settings, Shot } from '../api/client';

type Recipe = Settings['recipe'];

/** A shot's settings with some of them changed. */
export const withSettings = (shot: Shot, part: Partial<Settings>): Pick<Shot, 'settings'> => ({
  settings: { ...shot.settings, ...part },
});

/** A shot's settings with a part of its recipe changed. */
export const withRecipe = <K extends keyof Recipe>(shot: Shot, key: K, part: Partial<Recipe[K]>) =>
  withSettings(shot, {
    recipe: { ...shot.settings.recipe, [key]: { ...shot.settings.recipe[key], ...part } },
  });

export const withLens = (shot: Shot, part: Partial<Settings['lens']>) =>
  withSettings(shot, { lens: { ...shot.settings.lens, ...part } });

export const withPasses = (shot: Shot, wanted: Settings['passes']['wanted']) =>
  withSettings(shot, { passes: { ...shot.settings.passes, wanted } });

export const withDelivery = (shot: Shot, part: Partial<Settings['delivery']>) =>
  withSettings(shot, { delivery: { ...shot.settings.delivery, ...part } });
