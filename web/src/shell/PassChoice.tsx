import { Listbox, ListboxOption, ListboxOptions } from '@headlessui/react';
import type { Pass, PassName } from '../api/client';
import { usePasses } from '../api/queries';
import { OpensList } from './Choice';
import { passesText } from './format';
import { Tick } from './Tick';

const BEAUTY = 'beauty';

/** The catalogue in groups of like use, in its own order. */
function grouped(all: Pass[]): [string, Pass[]][] {
  const groups = new Map<string, Pass[]>();
  for (const p of all) {
    if (p.name !== BEAUTY) {
      groups.set(p.use, [...(groups.get(p.use) ?? []), p]);
    }
  }
  return [...groups];
}

function sameCost(passes: Pass[]): boolean {
  return passes.every((p) => p.cost === passes[0]?.cost);
}

/** Any number of passes beside the beauty, with what each of them holds. */
export function PassChoice({
  chosen,
  onChange,
}: {
  chosen: PassName[];
  onChange: (passes: PassName[]) => void;
}) {
  const all = usePasses().data ?? [];
  const shown = passesText(chosen);
  const take = (names: PassName[]) =>
    onChange(all.map((p) => p.name).filter((n) => n === BEAUTY || names.includes(n)));
  return (
    <Listbox value={chosen} onChange={take} multiple>
      <OpensList label="Passes" shown={shown} />
      <ListboxOptions
        anchor={{ to: 'bottom end', gap: 4 }}
        className="z-20 max-h-110! w-120 overflow-auto rounded-sm border border-t3 bg-up py-1 focus:outline-none"
      >
        {grouped(all).map(([use, passes]) => (
          <section key={use} aria-label={use}>
            <h3 className="px-3 pt-2 pb-1 text-xs text-t3">
              {use}
              {sameCost(passes) && `; costs ${passes[0]!.cost}`}
            </h3>
            {passes.map((p) => (
              <ListboxOption
                key={p.name}
                value={p.name}
                className="group grid cursor-pointer grid-cols-[1rem_9.5rem_1fr] gap-2 px-3 py-1 data-focus:bg-up2"
              >
                <Tick />
                <span className="group-data-selected:font-semibold">{p.name}</span>
                <span className="text-xs leading-4.5 text-t2" title={p.units}>
                  {p.holds}
                  {!sameCost(passes) && <span className="block text-t3">costs {p.cost}</span>}
                </span>
              </ListboxOption>
            ))}
          </section>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
