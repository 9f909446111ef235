import { useMemo } from 'react';
import type {
  Definition,
  Delivery,
  LayerDocument,
  Recipe,
  Rig,
  Settings,
  Shot,
  Strand,
} from './client';
import { useRigs } from './rigs';
import {
  useChangeDelivery,
  useChangeLayer,
  useChangeRecipe,
  useChangeStrands,
  useDeliveries,
  useLayers,
  useRecipes,
  useRevisions,
  useStrands,
} from './queries';

export type Layer = Definition<LayerDocument>;

/** Who says something about a strand: the strand itself, its layer or its shot. */
export type Source = 'strand' | 'layer' | 'shot';

/** One layer of one shot, with all that is said about its pictures. */
export type StrandView = {
  shot: Shot;
  layer: Layer;
  /** What is said about the strand itself. */
  strand: Strand;
  recipe: Definition<Recipe>;
  recipeFrom: Source;
  delivery: Definition<Delivery>;
  deliveryFrom: Source;
  settings: Settings;
};

type All = {
  strands: Strand[];
  recipes: Definition<Recipe>[];
  deliveries: Definition<Delivery>[];
  /** What is added to the scenes of revisions, by their numbers. */
  rigs: Map<number, Rig>;
};

function choose<D>(
  all: Definition<D>[],
  ids: [number | null, number | null, number],
): [Definition<D>, Source] | undefined {
  const from = (['strand', 'layer', 'shot'] as const).find((_, k) => ids[k] !== null)!;
  const found = all.find((d) => d.id === (ids[0] ?? ids[1] ?? ids[2]));
  return found && [found, from];
}

/** What is said about strands, by shot and layer; made once for a list. */
const SAID = new WeakMap<Strand[], Map<string, Strand>>();

function said(strands: Strand[]): Map<string, Strand> {
  const known = SAID.get(strands) ?? new Map(strands.map((s) => [`${s.shotId}-${s.layerId}`, s]));
  SAID.set(strands, known);
  return known;
}

/** Puts together what is said about a strand; undefined while something is not known yet. */
export function strandView(shot: Shot, layer: Layer, all: All): StrandView | undefined {
  const strand = said(all.strands).get(`${shot.id}-${layer.id}`) ?? {
    id: 0,
    shotId: shot.id,
    layerId: layer.id,
    on: false,
    recipeId: null,
    deliveryId: null,
    passes: null,
  };
  const d = layer.document;
  const recipe = choose(all.recipes, [strand.recipeId, d.recipeId, shot.recipeId]);
  const delivery = choose(all.deliveries, [strand.deliveryId, d.deliveryId, shot.deliveryId]);
  if (!recipe || !delivery) {
    return undefined;
  }
  return {
    shot,
    layer,
    strand,
    recipe: recipe[0],
    recipeFrom: recipe[1],
    delivery: delivery[0],
    deliveryFrom: delivery[1],
    settings: {
      ...shot.settings,
      recipe: recipe[0].document,
      background: d.background,
      passes: strand.passes ?? d.passes,
      layer: d.layer,
      environment: d.environment,
      delivery: delivery[0].document,
      rig: all.rigs.get(shot.revisionId) ?? null,
    },
  };
}

/** All that strands are put together from; undefined while it is not known yet. */
export function useStrandParts(): (All & { layers: Layer[] }) | undefined {
  const strands = useStrands().data;
  const recipes = useRecipes().data;
  const deliveries = useDeliveries().data;
  const layers = useLayers().data;
  const revisions = useRevisions().data;
  const all = useRigs();
  const rigs = useMemo(() => {
    const of = new Map(all?.map((r) => [r.document.scene, r.document.rig]));
    const found = revisions?.map((r) => [r.id, of.get(r.scene)] as const);
    return all && found && new Map(found.filter((f): f is [number, Rig] => !!f[1]));
  }, [all, revisions]);
  return useMemo(
    () =>
      strands &&
      recipes &&
      deliveries &&
      layers &&
      rigs && { strands, recipes, deliveries, layers, rigs },
    [strands, recipes, deliveries, layers, rigs],
  );
}

/** The layers of a shot that are on. */
export function layersOf(shot: Shot, parts: { strands: Strand[]; layers: Layer[] }): Layer[] {
  return parts.layers.filter((l) =>
    parts.strands.some((s) => s.on && s.shotId === shot.id && s.layerId === l.id),
  );
}

/** A shot's strand of a layer, by name; else of its first that is on, or the first there is. */
export function useStrandView(shot: Shot | undefined, layer?: string): StrandView | undefined {
  const parts = useStrandParts();
  if (!parts || !shot) {
    return undefined;
  }
  const l =
    parts.layers.find((x) => x.name === layer) ?? layersOf(shot, parts)[0] ?? parts.layers[0];
  return l && strandView(shot, l, parts);
}

/** Changes what is said about a strand, where it is said. */
export function useChangeView(v: StrandView) {
  const recipe = useChangeRecipe();
  const layer = useChangeLayer();
  const delivery = useChangeDelivery();
  const strands = useChangeStrands();
  return {
    recipe: (part: Partial<Recipe>) => recipe.mutateAsync({ id: v.recipe.id, part }),
    recipeName: (name: string) => recipe.mutateAsync({ id: v.recipe.id, name }),
    delivery: (part: Partial<Delivery>) => delivery.mutateAsync({ id: v.delivery.id, part }),
    passes: (part: Settings['passes']['wanted'] | Partial<Settings['passes']>) => {
      const passes = { ...v.settings.passes, ...(Array.isArray(part) ? { wanted: part } : part) };
      return v.strand.passes
        ? strands.mutateAsync([{ ...v.strand, passes }])
        : layer.mutateAsync({ id: v.layer.id, part: { passes } });
    },
    layer: (part: Partial<LayerDocument>) => layer.mutateAsync({ id: v.layer.id, part }),
    layerName: (name: string) => layer.mutateAsync({ id: v.layer.id, name }),
    strand: (part: Partial<Strand>) => strands.mutateAsync([{ ...v.strand, ...part }]),
  };
}
