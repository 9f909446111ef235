import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { NewLayers } from '../api/client';
import { useAddLayer, usePlanLayers } from '../api/layers';
import { useProduction } from '../api/queries';
import type { Layer } from '../api/strands';
import { useCurrentRevision, useCurrentShot } from './current';
import { useNotices } from './Notices';
import { playhead } from './playhead';
import { useUndo } from './undo';

/** Ways of making layers. */
const WAYS: [NewLayers['way'], string, string][] = [
  ['MOVING_AND_STILL', 'Moving and still apart', 'the still one is rendered once'],
  ['NEAR_AND_FAR', 'Near and far apart', 'by this shot’s depth'],
  ['GROUPS', 'Each top-level group', 'cut out of the others'],
  ['OBJECTS', 'The chosen objects', 'with shadow and reflection apart'],
  ['BAKED_BACKGROUND', 'Baked background', 'and a region that follows what moves'],
  ['CLAY', 'Clay for approval', 'the beauty alone, quickly'],
];

/** Makes layers: a copy of one, or what the scene suggests. */
export function AddLayers({
  like,
  objects = [],
}: {
  like: Layer | undefined;
  /** Names of the chosen objects. */
  objects?: string[];
}) {
  const production = useProduction().data;
  const revision = useCurrentRevision();
  const shot = useCurrentShot();
  const add = useAddLayer();
  const plan = usePlanLayers();
  const undo = useUndo();
  const { tell } = useNotices();
  if (!production || !like) {
    return null;
  }
  const failed = { onError: (e: Error) => tell(e.message, { bad: true }) };
  const item =
    'flex w-full justify-between gap-6 px-3 py-1 text-left whitespace-nowrap data-focus:bg-up2';
  return (
    <Menu>
      <MenuButton
        disabled={add.isPending || plan.isPending}
        className="min-h-6 rounded-sm px-1.5 whitespace-nowrap text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
      >
        Add layers
      </MenuButton>
      <MenuItems
        anchor={{ to: 'bottom start', gap: 4, padding: 8 }}
        className="z-20 rounded-sm border border-t3 bg-up py-1 focus:outline-none"
      >
        <MenuItem>
          <button
            className={item}
            onClick={() =>
              add.mutate({ productionId: production.id, name: like.name, copyOf: like.id }, failed)
            }
          >
            <span>A copy of {like.name}</span>
          </button>
        </MenuItem>
        {revision &&
          WAYS.filter(([way]) => way !== 'OBJECTS' || objects.length > 0).map(
            ([way, name, hint]) => (
              <MenuItem key={way}>
                <button
                  className={item}
                  onClick={() =>
                    plan.mutate(
                      {
                        revisionId: revision.id,
                        way,
                        shotId: shot?.id ?? null,
                        frame: playhead.now(),
                        objects,
                      },
                      {
                        ...failed,
                        onSuccess: (made) =>
                          tell(
                            made.length === 1
                              ? `Layer ${made[0]!.name} is made; switch its strands on.`
                              : `${made.length} layers are made; switch their strands on.`,
                            { action: { label: 'Undo', run: () => undo('undo') } },
                          ),
                      },
                    )
                  }
                >
                  <span>{name}</span>
                  <span className="text-t3">{hint}</span>
                </button>
              </MenuItem>
            ),
          )}
      </MenuItems>
    </Menu>
  );
}
