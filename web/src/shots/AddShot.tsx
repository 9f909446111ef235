import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useAddShot } from '../api/queries';
import { useCameras } from '../api/rigs';
import { useCurrentRevision } from '../shell/current';
import { useTell } from '../shell/Notices';
import { useGo } from '../shell/address';

/** Adds a shot of one of the scene's cameras. */
export function AddShot({ label }: { label: string }) {
  const revision = useCurrentRevision();
  const add = useAddShot();
  const cameras = useCameras(revision);
  const tell = useTell();
  const go = useGo();
  if (!revision) {
    return null;
  }
  const make = (camera: string) =>
    add.mutate(
      { revisionId: revision.id, camera },
      {
        onSuccess: (s) => go({ shot: s.name }),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  return (
    <Menu>
      <MenuButton className="w-full rounded-sm border border-line px-4 py-1.5 font-medium hover:border-t3">
        {label}
      </MenuButton>
      <MenuItems
        anchor={{ to: 'top start', gap: 4 }}
        className="z-20 max-h-80 min-w-46 overflow-auto rounded-sm border border-t3 bg-up py-1 focus:outline-none"
      >
        {cameras.map((c) => (
          <MenuItem key={c.name}>
            <button
              className="flex w-full justify-between gap-6 px-3 py-1 text-left data-focus:bg-up2"
              onClick={() => make(c.name)}
            >
              {c.name} <span className="text-t3">{c.moves ? 'animated' : 'static'}</span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
