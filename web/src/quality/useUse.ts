import { useLedger, useShots } from '../api/queries';
import { strandView, useStrandParts, type StrandView } from '../api/strands';
import { countsOf } from '../shell/ledger';

/** Who uses a recipe. */
export type Use = {
  /** Strands that are on and use it. */
  strands: StrandView[];
  /** Their frames that are fresh, which a change makes stale. */
  fresh: number;
};

/** Returns who uses a recipe, by its number. */
export function useUse(): (recipe: number) => Use {
  const parts = useStrandParts();
  const shots = useShots().data;
  const ledger = useLedger().data;
  return (recipe) => {
    const strands =
      parts && shots
        ? shots
            .flatMap((s) => parts.layers.map((l) => strandView(s, l, parts)))
            .filter((v): v is StrandView => !!v && v.strand.on && v.recipe.id === recipe)
        : [];
    const of = (ledger ?? []).filter((l) =>
      strands.some((v) => v.shot.id === l.shotId && v.layer.id === l.layerId),
    );
    return { strands, fresh: countsOf(of).fresh };
  };
}

/** Says who uses it, and what a change does. */
export function usedText({ strands, fresh }: Use): string {
  const used = strands.length === 1 ? 'used by 1 strand' : `used by ${strands.length} strands`;
  if (strands.length === 0) {
    return 'used by no strand that is on';
  }
  return fresh > 0
    ? `${used}; a change makes ${fresh} fresh ${fresh === 1 ? 'frame' : 'frames'} stale`
    : `${used}; none of their frames is fresh`;
}

/** Strands that are named; of more it is said how many. */
const NAMED = 3;

/** The strands that use it, the first by their names. */
export function strandsText({ strands }: Use): string {
  const names = strands.slice(0, NAMED).map((v) => `${v.shot.name} ${v.layer.name}`);
  const more = strands.length - names.length;
  return `${names.join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}
