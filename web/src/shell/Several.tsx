import { Listbox, ListboxOption, ListboxOptions } from '@headlessui/react';
import { OpensList, type Option } from './Choice';
import { Tick } from './Tick';

/** Any number of a few things. */
export function Several<T extends string>({
  label,
  chosen,
  options,
  none,
  onChange,
}: {
  label: string;
  chosen: T[];
  options: Option<T>[];
  /** What stands there if nothing is chosen. */
  none: string;
  onChange: (all: T[]) => void;
}) {
  const names = options.filter((o) => chosen.includes(o.value)).map((o) => o.label);
  return (
    <Listbox value={chosen} onChange={onChange} multiple>
      <OpensList label={label} shown={names.join(', ') || none} />
      <ListboxOptions
        anchor={{ to: 'bottom start', gap: 4, padding: 8 }}
        className="z-20 min-w-44 overflow-auto rounded-sm border border-t3 bg-up py-1 focus:outline-none"
      >
        {options.map((o) => (
          <ListboxOption
            key={o.value}
            value={o.value}
            className="group flex cursor-pointer items-center gap-2 px-3 py-1 data-focus:bg-up2"
          >
            <Tick />
            <span className="group-data-selected:font-semibold">{o.label}</span>
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
