import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';

export type Option<T> = { value: T; label: string; hint?: string };

/** A quiet value that opens a list. */
export function OpensList({ label, shown }: { label: string; shown: string }) {
  return (
    <ListboxButton
      aria-label={`${label}: ${shown}`}
      className="-mx-1 flex max-w-full items-center gap-1.5 rounded-sm px-1 text-left hover:bg-up2"
    >
      <span className="truncate">{shown}</span>
      <svg width="8" height="5" className="shrink-0 text-t3" aria-hidden="true">
        <path d="M0 0h8L4 5z" fill="currentColor" />
      </svg>
    </ListboxButton>
  );
}

/** One of a list. */
export function Choice<T extends string | number>({
  label,
  value,
  shown,
  options,
  onChange,
}: {
  label: string;
  value: T;
  /** What stands where the list opens; else the value's label. */
  shown?: string;
  options: Option<T>[];
  onChange: (v: T) => void;
}) {
  const known = options.find((o) => o.value === value)?.label;
  return (
    <Listbox value={value} onChange={onChange}>
      <OpensList label={label} shown={shown ?? known ?? String(value)} />
      <ListboxOptions
        anchor={{ to: 'bottom start', gap: 4, padding: 8 }}
        className="z-20 max-h-80 min-w-44 overflow-auto rounded-sm border border-t3 bg-up py-1 focus:outline-none"
      >
        {options.map((o) => (
          <ListboxOption
            key={o.value}
            value={o.value}
            className="flex cursor-pointer justify-between gap-6 px-3 py-1 data-focus:bg-up2 data-selected:font-semibold"
          >
            <span className="whitespace-nowrap">{o.label}</span>
            {o.hint && <span className="whitespace-nowrap text-t3">{o.hint}</span>}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
