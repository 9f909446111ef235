import {
  Menu,
  MenuButton,
  MenuItem,
  MenuItems,
  MenuSection,
  MenuSeparator,
} from '@headlessui/react';
import { useState } from 'react';
import type { Production } from '../api/client';
import {
  useAddProduction,
  useChangeProduction,
  useProduction,
  useProductions,
} from '../api/queries';
import { useGo } from './address';
import { useTell } from './Notices';
import { ProductionDialog } from './ProductionDialog';

const ITEM = 'flex w-full justify-between gap-6 px-3 py-1 text-left data-focus:bg-up2';

/** The production's name, with all productions behind it and what can be done with this one. */
export function ProductionMenu() {
  const all = useProductions().data ?? [];
  const production = useProduction().data;
  const change = useChangeProduction();
  const add = useAddProduction();
  const go = useGo();
  const tell = useTell();
  const [editing, setEditing] = useState(false);
  const open = (p: Production) =>
    go({ production: p.address, station: 'scene', shot: undefined, version: undefined });
  const told = { onError: (e: Error) => tell(e.message, { bad: true }) };
  const make = (name: string, copyOf: number | null) => {
    const names = new Set(all.map((p) => p.name));
    let free = name;
    for (let k = 2; names.has(free); k++) {
      free = `${name} ${k}`;
    }
    add.mutate(
      { name: free, copyOf },
      {
        ...told,
        onSuccess: (p) => {
          open(p);
          setEditing(true);
        },
      },
    );
  };
  const archive = (p: Production, archived: boolean) =>
    change.mutate(
      { ...p, archived },
      {
        ...told,
        onSuccess: () => tell(`Production ${p.name} is ${archived ? 'archived' : 'restored'}.`),
      },
    );
  const archived = all.filter((p) => p.archived);
  return (
    <div className="w-32 shrink-0 leading-4">
      <h1 className="text-[15px] font-[640] [font-stretch:118%]">Posada</h1>
      <Menu>
        <MenuButton
          className="-mx-1 flex min-h-6 max-w-full items-center gap-1.5 rounded-sm px-1 text-t2 hover:bg-up2 hover:text-t1"
          aria-label={`Production: ${production?.name ?? 'none'}`}
        >
          <span className="truncate" title={production?.name}>
            {production?.name ?? 'Productions'}
          </span>
          <svg width="8" height="5" className="shrink-0 text-t3" aria-hidden="true">
            <path d="M0 0h8L4 5z" fill="currentColor" />
          </svg>
        </MenuButton>
        <MenuItems
          anchor={{ to: 'bottom start', gap: 4, padding: 8 }}
          className="z-30 max-h-140! min-w-64 overflow-auto rounded-sm border border-t3 bg-up py-1 focus:outline-none"
        >
          <MenuSection>
            {all
              .filter((p) => !p.archived)
              .map((p) => (
                <MenuItem key={p.id}>
                  <button className={ITEM} onClick={() => open(p)}>
                    <span className={p.id === production?.id ? 'font-semibold' : ''}>{p.name}</span>
                    {p.id === production?.id && <span className="text-t3">open</span>}
                  </button>
                </MenuItem>
              ))}
          </MenuSection>
          <MenuSeparator className="my-1 h-px bg-line" />
          <MenuItem>
            <button className={ITEM} onClick={() => make('New production', null)}>
              New production
            </button>
          </MenuItem>
          {production && (
            <>
              <MenuItem>
                <button className={ITEM} onClick={() => setEditing(true)}>
                  Name, frame rate, size
                </button>
              </MenuItem>
              <MenuItem>
                <button
                  className={ITEM}
                  onClick={() => make(`Copy of ${production.name}`, production.id)}
                >
                  Copy <span className="text-t3">scenes and shots</span>
                </button>
              </MenuItem>
              <MenuItem>
                <button className={ITEM} onClick={() => archive(production, !production.archived)}>
                  {production.archived ? 'Restore' : 'Archive'}
                </button>
              </MenuItem>
            </>
          )}
          {archived.length > 0 && (
            <MenuSection>
              <MenuSeparator className="my-1 h-px bg-line" />
              <h3 className="px-3 py-1 text-xs text-t3">Archived</h3>
              {archived.map((p) => (
                <MenuItem key={p.id}>
                  <button className={ITEM} onClick={() => open(p)}>
                    <span className="text-t2">{p.name}</span>
                    {p.id === production?.id && <span className="text-t3">open</span>}
                  </button>
                </MenuItem>
              ))}
            </MenuSection>
          )}
        </MenuItems>
      </Menu>
      {editing && production && (
        <ProductionDialog
          key={production.id}
          production={production}
          onClose={() => setEditing(false)}
        />
      )}
    </div>
  );
}
